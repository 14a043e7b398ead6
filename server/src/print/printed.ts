import type { ExportOrder } from '@fiche/core/api';
import { formatMoment } from '@fiche/core/fields';
import type { TableDefinition, Tables } from '@fiche/core/tables';
import { filterWords, recordsInFilter } from '@fiche/core/views';
import type { Database } from '../database/index.ts';
import { titlesOf } from '../records/index.ts';
import type { exportReader, RowsQuery } from '../views/index.ts';
import { labelsDocument, requireLayout } from './labels.ts';
import { listDocument } from './list.ts';
import { momentWords } from './momentWords.ts';
import { makePdf } from './pdf.ts';

/** Records of a list that are printed, as a list or as labels. */
export interface PrintedSelection {
  readonly table: TableDefinition;
  readonly tables: Tables;
  readonly query: Omit<RowsQuery, 'after' | 'at' | 'limit'>;
  readonly print: NonNullable<ExportOrder['print']>;
  readonly title: string;
  readonly asOf: string | undefined;
  readonly publicUrl: string;
}

/** Makes a PDF of records. Throws 422 for too many of them, or what does not fit on the paper. */
export async function printSelection(
  database: Database,
  { table, tables, query, print, title, asOf, publicUrl }: PrintedSelection,
  reader: ReturnType<typeof exportReader>,
): Promise<Buffer> {
  if (print.kind === 'labels') {
    requireLayout(tables, table, print.layout);
    const addressOf = (record: number): string => `${publicUrl}/${table.cabinet}/tables/${table.id}/${record}`;
    return makePdf(await labelsDocument(database, tables, table, query, reader, print, addressOf));
  }
  const { filter } = query.listing;
  const titles = await titlesOf(database, tables, recordsInFilter(filter, table.id, tables));
  const words = filterWords(filter, table.id, tables, titles);
  const said = [
    words === '' ? '' : `${table.label} whose ${words}`,
    query.search === '' ? '' : `Found by “${query.search}”`,
    query.archived === 'yes' ? 'Archived records' : '',
    asOf === undefined ? '' : `As it stood ${momentWords(asOf)}`,
    `Printed ${formatMoment(new Date().toISOString())}`,
  ];
  return makePdf(await listDocument(database, tables, table, query, reader, { ...print, title, said }));
}
