import type { ExportSettings } from '@fiche/core/exports';
import { say } from '@fiche/core/languages';
import { type TableDefinition, type Tables, typeOf } from '@fiche/core/tables';
import { columnAt } from '@fiche/core/views';
import type { Database } from '../database/index.ts';
import { type FileHead, FORMATS } from '../formats/index.ts';
import { unacceptable } from '../http/index.ts';
import type { exportReader } from '../views/index.ts';
import { type ExportColumn, type ExportQuery, exportColumns, exportPages } from './pages.ts';

/** Records of a listing that become a file. */
export interface RecordsFile {
  readonly table: TableDefinition;
  /** The tables as they are read: of today, or as they stood once. */
  readonly tables: Tables;
  readonly query: ExportQuery;
  readonly settings: ExportSettings;
  /** What the records are together, such as *Stays* or *Arrivals this week*. */
  readonly title: string;
  /** Under which address people open the application. */
  readonly publicUrl: string;
}

/**
 * Prepares a file: its columns, and for a calendar which of them are its dates. Throws 422 where a calendar has no date, or
 * one that is none.
 */
export function prepareFile({ table, tables, query, settings, title, publicUrl }: RecordsFile): {
  readonly head: FileHead & { readonly columns: readonly ExportColumn[] };
  readonly query: ExportQuery;
} {
  const dates = settings.format === 'ics' ? datesOf(tables, table, settings) : [];
  const shown = query.listing.columns.map((one) => one.path);
  const added = dates.filter((path) => !shown.includes(path)).map((path) => ({ path }));
  const listing = { ...query.listing, columns: [...query.listing.columns, ...added] };
  const columns = exportColumns(tables, table, listing, settings.links);
  const placeOf = (path: string | undefined): number => columns.findIndex((one) => one.path === path);
  const [begins, ends] = dates;
  const addressOf = (id: number): string => `${publicUrl}/${table.cabinet}/tables/${table.id}/${id}`;
  return {
    query: { ...query, listing },
    head: {
      title,
      columns,
      period:
        begins === undefined ? undefined : { begins: placeOf(begins), ends: ends === undefined ? null : placeOf(ends) },
      addressOf,
    },
  };
}

/** The dates of a calendar, by path. */
function datesOf(tables: Tables, table: TableDefinition, { begins, ends }: ExportSettings): string[] {
  if (begins === undefined)
    throw unacceptable([
      { path: 'begins', rule: 'required', message: say('Choose the date on which an event of the calendar begins.') },
    ]);
  return [
    ['begins', begins],
    ['ends', ends],
  ].flatMap(([path = '', of]) => {
    if (of === undefined) return [];
    const field = columnAt(tables, table.id, of)?.field;
    const family = field && typeOf(field).family;
    if (family !== 'date' && family !== 'dateTime')
      throw unacceptable([{ path, rule: 'date', message: say('This column is no date. Choose one that is.') }]);
    return [of];
  });
}

/**
 * Writes records into a file as it is read, in little memory, all of them as one moment sees them. `onPage` is told how many there
 * were so far; what it throws breaks the file off.
 */
export async function* writeFile(
  exports: Database,
  file: RecordsFile,
  reader: ReturnType<typeof exportReader>,
  onPage?: (done: number) => Promise<void>,
): AsyncGenerator<string | Uint8Array> {
  const { head, query } = prepareFile(file);
  const snapshot = await exports.transaction(undefined, { isolationLevel: 'repeatable read', readOnly: true });
  try {
    const pages = exportPages(snapshot, file.tables, file.table, query, reader, head.columns, onPage);
    yield* FORMATS[file.settings.format].write(head, pages);
  } finally {
    await snapshot.rollback();
  }
}
