import { quoted, recordsOf } from '@fiche/core/queries';
import type { TableDefinition, Tables } from '@fiche/core/tables';
import { isLinkedFrom, linkedFromAt } from '@fiche/core/views';
import { pathSql } from '../records/index.ts';

/** Whether the values of a column stand elsewhere than in the record itself. */
export const isElsewhere = (path: string): boolean => path.includes('.') || isLinkedFrom(path);

/** The value of a column of the record `r` as a scalar SQL expression: its own, one behind links, a count or sum of what links here. */
export function columnSql(tables: Tables, table: TableDefinition, path: string): string {
  const from = isLinkedFrom(path) ? linkedFromAt(tables, table.id, path) : undefined;
  if (!from) return pathSql(tables, table.id, 'r', path);
  const value = from.summed ? `sum(f.${quoted(from.summed.id)})` : 'count(*)';
  return `(SELECT ${value} FROM ${recordsOf(tables, from.table.id)} f WHERE f.${quoted(from.link.id)} = r.id AND f.archived_at IS NULL)`;
}
