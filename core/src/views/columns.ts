import { isIndexed, isLinking, linksOne } from '../fields/index.ts';
import { labelAt } from '../forms/index.ts';
import { say, sayLater } from '../languages/index.ts';
import {
  type FieldDefinition,
  fieldAtPath,
  type TableDefinition,
  type TableId,
  type Tables,
  targetTable,
} from '../tables/index.ts';
import { calculatedField, isCalculated } from './calculated.ts';
import { isLinkedFrom, linkedFromAt, linkedFromField, linkedFromPaths } from './linkedFrom.ts';
import { AS_LIST } from './shown.ts';
import type { Listing, ViewColumn } from './view.ts';

/** Audit fields as a list shows them: who, and the moment. */
export const AUDIT_COLUMNS = {
  created_at: { label: sayLater('Added'), holds: 'moment' },
  created_by: { label: sayLater('Added by'), holds: 'login' },
  changed_at: { label: sayLater('Changed'), holds: 'moment' },
  changed_by: { label: sayLater('Changed by'), holds: 'login' },
} as const;
export type AuditColumn = keyof typeof AUDIT_COLUMNS;

export const isAuditColumn = (path: string): path is AuditColumn => Object.hasOwn(AUDIT_COLUMNS, path);

/** A column that is there: an audit field, or the field at the end of its path. */
export type KnownColumn =
  | { readonly path: AuditColumn; readonly label: string; readonly field?: undefined }
  | { readonly path: string; readonly label: string; readonly field: FieldDefinition };

/** What a path stands for in a table; undefined where it is not there, or not seen. */
export function columnAt(tables: Tables, table: TableId, path: string): KnownColumn | undefined {
  if (isAuditColumn(path)) return { path, label: say(AUDIT_COLUMNS[path].label) };
  if (isLinkedFrom(path)) {
    const from = linkedFromAt(tables, table, path);
    const field = from && linkedFromField(from, path);
    return field && { path, label: field.label, field };
  }
  const field = fieldAtPath(tables, table, path);
  return field && { path, label: labelAt(tables, table, path), field };
}

/** What a column of a listing stands for; undefined where it is not there, or not seen. */
export const columnOf = (tables: Tables, table: TableId, { path, calculation }: ViewColumn): KnownColumn | undefined =>
  calculation
    ? { path, label: calculation.label, field: calculatedField(path, calculation) }
    : columnAt(tables, table, path);

/** Whether a list can be sorted by a column: the record holds one value, or one linked record, by its title. */
export const isSortable = ({ path, field }: KnownColumn): boolean =>
  !isLinkedFrom(path) &&
  !isCalculated(path) &&
  (field === undefined || linksOne(field) || (isIndexed(field) && !isLinking(field)));

/** Whether records can stand together by a column: it is a field that a list can be sorted by. */
export const isGroupable = (column: KnownColumn): boolean => column.field !== undefined && isSortable(column);

/** The columns that a view of a table can have: its fields, those behind its links, counts and sums of what links here, audit fields. */
export function columnsFor(tables: Tables, table: TableDefinition): KnownColumn[] {
  const own = table.fields.map((field) => field.id);
  const behind = table.fields.flatMap((field) => {
    const target = linksOne(field) ? tables.get(targetTable(field) ?? '') : undefined;
    return target?.fields.map((one) => `${field.id}.${one.id}`) ?? [];
  });
  return [...own, ...behind, ...linkedFromPaths(tables, table.id), ...Object.keys(AUDIT_COLUMNS)].flatMap(
    (path) => columnAt(tables, table.id, path) ?? [],
  );
}

/** How a table is listed without a view: all of its fields, all of its records, the newest first. */
export const plainListing = (table: TableDefinition): Listing => ({
  columns: table.fields.map((field) => ({ path: field.id })),
  filter: { kind: 'group', match: 'all', of: [] },
  sort: [],
  group: null,
  frozen: 1,
  shown: AS_LIST,
});
