import type { ListedRecord } from '@fiche/core/api';
import type { ExportSettings } from '@fiche/core/exports';
import { itemsOf, linksSeveral, type Value } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { civilOf } from '@fiche/core/office';
import { type FieldDefinition, type TableDefinition, type Tables, targetTable, typeOf } from '@fiche/core/tables';
import { AUDIT_COLUMNS, auditValue, columnOf, isAuditColumn, type KnownColumn } from '@fiche/core/views';
import type { Transaction } from '../database/index.ts';
import { cellAsText, type FileCell, type FileColumn, type FileRow, type Holds, isGuarded } from '../formats/index.ts';
import { type exportReader, type WholeQuery, wholeListing } from '../views/index.ts';

/** Which records are exported, in which order, with which columns. */
export type ExportQuery = WholeQuery;

/** Records that are read at a time. */
const STEP = 1_000;

/** A column of an export, and what it writes of a record. */
export interface ExportColumn extends FileColumn {
  /** Where it stands in the listing; of a record’s own number, nowhere. */
  readonly path: string | null;
  cellOf(record: ListedRecord): FileCell;
}

/** What a field’s values are in a file, where links stand by their titles or by numbers. */
export function holdsOf(field: FieldDefinition, links: ExportSettings['links'] = 'titles'): Holds {
  const { family } = typeOf(field);
  if (family === 'choices' || family === 'links') return 'list';
  if (family === 'link') return links === 'titles' ? 'text' : 'number';
  return family;
}

/** Whether a field’s values are texts, which a spreadsheet could take for formulas. */
export const isTextual = (field: FieldDefinition): boolean => isGuarded(holdsOf(field));

/** A value as text that any program reads: ISO dates, plain numbers, yes and no. */
export const plainText = (field: FieldDefinition, value: Value): string =>
  cellAsText(value !== null && typeof value === 'object' ? itemsOf(value) : value, holdsOf(field, 'numbers'));

/** The columns of an export: those of its listing; with links by number, the record’s own number first. */
export function exportColumns(
  tables: Tables,
  table: TableDefinition,
  listing: ExportQuery['listing'],
  links: ExportSettings['links'],
): ExportColumn[] {
  const taken = new Set<string>();
  const number: ExportColumn = {
    key: 'record_number',
    label: say('Record number'),
    holds: 'number',
    path: null,
    cellOf: (record) => record.id,
  };
  const known = listing.columns.flatMap((one) => columnOf(tables, table.id, one) ?? []);
  return [...(links === 'numbers' ? [number] : []), ...known.map((column) => columnIn(column, links))].map(
    (column) => ({
      ...column,
      key: uniqueKey(taken, column.key),
    }),
  );
}

function columnIn(known: KnownColumn, links: ExportSettings['links']): ExportColumn {
  const { path, label, field } = known;
  const holds = field
    ? holdsOf(field, links)
    : isAuditColumn(path) && AUDIT_COLUMNS[path].holds === 'moment'
      ? 'dateTime'
      : 'text';
  const places = field && typeof field.settings.places === 'number' ? field.settings.places : undefined;
  return { key: keyOf(path, label), label, holds, places, path, cellOf: (record) => cellOf(record, known, links) };
}

/** A name for programs: a path as it is, what is calculated or counted by its label. */
const keyOf = (path: string, label: string): string =>
  /^[a-z][\w.]*$/.test(path)
    ? path
    : label
        .normalize('NFKD')
        .replace(/[^\w]+/g, '_')
        .replace(/^[_\d]+|_+$/g, '')
        .toLowerCase() || 'calculated';

function uniqueKey(taken: Set<string>, key: string): string {
  let once = key;
  for (let n = 2; taken.has(once); n++) once = `${key}_${n}`;
  taken.add(once);
  return once;
}

function cellOf(record: ListedRecord, { path, field }: KnownColumn, links: ExportSettings['links']): FileCell {
  if (field === undefined) {
    if (!isAuditColumn(path)) return null;
    const value = auditValue(record.stamp, path);
    return AUDIT_COLUMNS[path].holds === 'moment' ? civilOf(new Date(value)) : value;
  }
  const behind = record.behind[path];
  const value: Value = behind ? behind.value : (record.values[path] ?? null);
  if (value === null) return null;
  if (targetTable(field) === undefined || links === 'numbers')
    return typeof value === 'object' ? itemsOf(value) : value;
  if (behind) return behind.title;
  const linked = record.linked[path];
  // In the order in which they are linked, which is not that of their numbers.
  return linksSeveral(field) ? itemsOf(value).map((id) => linked?.titles?.[id] ?? '') : (linked?.title ?? null);
}

/** The records of a listing as rows of a file, part by part, in its order. `onPage` is told how many there were so far. */
export async function* exportPages(
  snapshot: Transaction,
  tables: Tables,
  table: TableDefinition,
  query: ExportQuery,
  reader: ReturnType<typeof exportReader>,
  columns: readonly ExportColumn[],
  onPage: (done: number) => Promise<void> = async () => undefined,
): AsyncGenerator<FileRow[]> {
  let done = 0;
  for await (const records of wholeListing(snapshot, tables, table, query, reader, STEP)) {
    done += records.length;
    await onPage(done);
    yield records.map((record) => ({
      id: record.id,
      title: record.title,
      changedAt: record.stamp.changedAt,
      cells: columns.map((column) => column.cellOf(record)),
    }));
  }
}
