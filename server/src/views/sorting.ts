import { recordsOf } from '@fiche/core/queries';
import { type TableDefinition, type Tables, targetTable, typeOf } from '@fiche/core/tables';
import { columnAt, isAuditColumn, type Listing, type ViewSort } from '@fiche/core/views';
import { pathSql, titleSql } from '../records/index.ts';
import type { SortKey } from './keyset.ts';

/** What a listing is sorted by: the column that it is grouped by first, then its sorts. */
export function keysOf(
  tables: Tables,
  table: TableDefinition,
  { sort, group }: Pick<Listing, 'sort' | 'group'>,
): SortKey[] {
  if (group === null) return sort.map((one, at) => sortKey(tables, table, one, `v${at}`));
  const direction = sort.find((one) => one.path === group)?.direction ?? 'up';
  const first = sortKey(tables, table, { path: group, direction }, 'vg');
  // Records that are called the same are different groups.
  const apart: SortKey[] = first.join
    ? [{ sql: pathSql(tables, table.id, 'r', group), type: 'bigint', direction }]
    : [];
  const others = sort.filter((one) => one.path !== group);
  return [first, ...apart, ...others.map((one, at) => sortKey(tables, table, one, `v${at}`))];
}

/** The direction in which equals stand in the order of entry: without sorts, and within a group, the newest come first. */
export const directionOfEntry = ({ sort, group }: Pick<Listing, 'sort' | 'group'>): 'up' | 'down' =>
  sort.find((one) => one.path !== group)?.direction ?? 'down';

/** What a column sorts by: its values, text by the numbers in it, a linked record by its title. */
function sortKey(tables: Tables, table: TableDefinition, { path, direction }: ViewSort, alias: string): SortKey {
  if (isAuditColumn(path)) return { sql: `r.${path}`, type: path.endsWith('_at') ? 'timestamptz' : 'text', direction };
  const field = columnAt(tables, table.id, path)?.field;
  if (!field) throw new Error(`${path} is not a column of ${table.id}`);
  const target = tables.get(targetTable(field) ?? '');
  const value = pathSql(tables, table.id, 'r', path);
  const natural = { collation: 'fiche.natural', type: 'text', direction };
  // Joined once, instead of looked up for each record: a list of a million is sorted by it.
  if (target)
    return {
      ...natural,
      sql: `(${titleSql(tables, target, alias)})::text`,
      join: `LEFT JOIN ${recordsOf(tables, target.id)} ${alias} ON ${alias}.id = ${value}`,
    };
  const type = typeOf(field);
  return type.family === 'text'
    ? { ...natural, sql: value }
    : { sql: value, type: type.column(field.settings), direction };
}
