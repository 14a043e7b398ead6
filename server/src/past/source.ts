import { sameColumn, type TableThen } from '@fiche/core/history';
import { quoted, relation } from '@fiche/core/queries';
import { type FieldDefinition, type TableDefinition, typeOf } from '@fiche/core/tables';

/** The value of a column out of the captured JSON `p.state`, in the type that the field has today. */
function valueSql(field: FieldDefinition, then: TableThen): string {
  const name = field.id.replaceAll("'", "''");
  const column = typeOf(field).column(field.settings);
  const was = then.fields.find((one) => one.id === field.id);
  if (was && !sameColumn(was, field))
    return typeOf(field).family === 'text' ? `p.state->>'${name}'` : `NULL::${column}`;
  return column.endsWith('[]')
    ? `CASE WHEN jsonb_typeof(p.state->'${name}') = 'array' THEN ARRAY(SELECT jsonb_array_elements_text(p.state->'${name}'))::${column} END`
    : `(p.state->>'${name}')::${column}`;
}

/** What the lines `l` of a record add up to. The first one, which says all that is there, needs no second look. */
export const STATE =
  'ledger.summed(CASE WHEN l.before IS NULL THEN l.after::jsonb ELSE ledger.told(l.before, l.after) END ORDER BY l.id)';

const AUDIT = ['id', 'version', 'created_at', 'created_by', 'changed_at', 'changed_by', 'archived_at'];

/** All columns of a table as they are in its row `s`. */
export const unchangedColumns = (table: TableDefinition): string =>
  [...AUDIT, ...[...table.fields, ...table.retired].map((field) => field.id)]
    .map((column) => `s.${quoted(column)}`)
    .join(', ');

/** The same columns, in the same order, out of what the lines of a record add up to: `p`, of the record `s`. */
export const toldColumns = (table: TableDefinition, then: TableThen): string =>
  [
    's.id, p.version, p.created_at, p.created_by, p.changed_at, p.changed_by',
    `(p.state->>'archived_at')::timestamptz AS archived_at`,
    ...[...table.fields, ...table.retired].map((field) => `${valueSql(field, then)} AS ${quoted(field.id)}`),
  ].join(', ');

/**
 * What stands behind FROM to read the records of a table as they stood at a moment: every column of today. A record that nobody
 * has changed since is read as it is, any other from what its lines of the ledger add up to. Of the records that are there today
 * and that `limit` lets see, a condition over `s`; a record that was erased since is not there.
 */
export function pastSource(table: TableDefinition, then: TableThen, moment: string, limit: string | null): string {
  const allowed = limit === null ? '' : ` AND (${limit})`;
  return `(SELECT ${unchangedColumns(table)} FROM ${relation(table.id)} s WHERE s.changed_at <= ${moment}${allowed}
    UNION ALL
    SELECT ${toldColumns(table, then)} FROM ${relation(table.id)} s CROSS JOIN LATERAL (
      SELECT ${STATE} AS state, max(l.version) AS version,
        min(l.at) AS created_at, (array_agg(l.account ORDER BY l.id))[1] AS created_by,
        max(l.at) AS changed_at, (array_agg(l.account ORDER BY l.id DESC))[1] AS changed_by
      FROM ledger.line l WHERE l.place = 'data.${table.id}' AND l.record = s.id::text AND l.at BETWEEN s.created_at AND ${moment}
    ) p WHERE s.created_at <= ${moment} AND s.changed_at > ${moment} AND p.version IS NOT NULL${allowed})`;
}
