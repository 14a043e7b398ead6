import type { ExportOrder } from '@fiche/core/api';
import { formatMoment } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { TableDefinition, Tables } from '@fiche/core/tables';
import { filterWords, recordsInFilter } from '@fiche/core/views';
import type { Database } from '../database/index.ts';
import { titlesOf } from '../records/index.ts';
import type { exportReader } from '../views/index.ts';
import { labelsDocument, requireLabels } from './labels.ts';
import { type ListReading, listDocument, requirePrintable } from './list.ts';
import { momentWords } from './momentWords.ts';
import type { PrintedDocument } from './pageStyle.ts';
import { makePdf } from './pdf.ts';

/** Records of a list that are printed, as a list or as labels. */
export interface PrintedSelection {
  readonly table: TableDefinition;
  readonly tables: Tables;
  readonly query: ListReading['query'];
  readonly print: NonNullable<ExportOrder['print']>;
  readonly title: string;
  readonly asOf: string | undefined;
  readonly publicUrl: string;
}

/** Checks that records can be printed so. Throws 422 for too many of them, or what does not fit on the paper. */
export const requirePrint = (database: Database, selection: PrintedSelection, reader: Reader): Promise<void> => {
  const reading = readingOf(database, selection, reader);
  const { print } = selection;
  return print.kind === 'labels' ? requireLabels(reading, print) : requirePrintable(reading, print);
};

/** Makes a PDF of records, all of them as one moment sees them. Throws 422 where they cannot be printed. */
export async function printSelection(exports: Database, selection: PrintedSelection, reader: Reader): Promise<Buffer> {
  const document = await exports.transaction(
    async (snapshot) => {
      await requirePrint(snapshot, selection, reader);
      return documentOf(snapshot, selection, reader);
    },
    { isolationLevel: 'repeatable read', readOnly: true },
  );
  return makePdf(document);
}

async function documentOf(database: Database, selection: PrintedSelection, reader: Reader): Promise<PrintedDocument> {
  const { table, print, title, publicUrl } = selection;
  const reading = readingOf(database, selection, reader);
  if (print.kind === 'labels') {
    const addressOf = (record: number): string => `${publicUrl}/${table.cabinet}/tables/${table.id}/${record}`;
    return labelsDocument(reading, print, addressOf);
  }
  const said = await saidOf(database, selection);
  return listDocument(reading, { ...print, title, said });
}

/** What is said under the title of a printed list: which records it has, and when it was printed; a line that says nothing is blank. */
export async function saidOf(
  database: Database,
  { table, tables, query, asOf }: Omit<PrintedSelection, 'print' | 'title' | 'publicUrl'>,
): Promise<string[]> {
  const { filter } = query.listing;
  const titles = await titlesOf(database, tables, recordsInFilter(filter, table.id, tables));
  const words = filterWords(filter, table.id, tables, titles);
  return [
    words === '' ? '' : say('{table} whose {words}', { table: table.label, words }),
    query.search === '' ? '' : say('Found by “{search}”', { search: query.search }),
    query.archived === 'yes' ? say('Archived records') : '',
    asOf === undefined ? '' : say('As it stood {asOf}', { asOf: momentWords(asOf) }),
    say('Printed {moment}', { moment: formatMoment(new Date().toISOString()) }),
  ];
}

type Reader = ReturnType<typeof exportReader>;

const readingOf = (database: Database, { tables, table, query }: PrintedSelection, reader: Reader): ListReading => ({
  database,
  tables,
  table,
  query,
  reader,
});
