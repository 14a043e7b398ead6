import { sameColumn } from '@fiche/core/history';
import { quoted, relation } from '@fiche/core/queries';
import { type FieldDefinition, type TableDefinition, typeOf } from '@fiche/core/tables';

/** Of so many changed records each is added up where it is read; of more, all of them once. */
export const MOST_READ_SINGLY = 5_000;

/** The value of a column out of the captured JSON `p.state`, in the type that the field had then. */
function valueSql(field: FieldDefinition): string {
  const name = field.id.replaceAll("'", "''");
  const column = typeOf(field).column(field.settings);
  return column.endsWith('[]')
    ? `CASE WHEN jsonb_typeof(p.state->'${name}') = 'array' THEN ARRAY(SELECT jsonb_array_elements_text(p.state->'${name}'))::${column} END`
    : `(p.state->>'${name}')::${column}`;
}

/** What the lines `l` of a record add up to. */
export const STATE = 'ledger.summed(ledger.says(l.before, l.after) ORDER BY l.id)';

const AUDIT = ['id', 'version', 'created_at', 'created_by', 'changed_at', 'changed_by', 'archived_at'];

/**
 * Whether rows of today hold the values of then of a record that has not changed since: not where a field has another kind of column
 * now, or none.
 */
export const holdsThose = (table: TableDefinition, then: TableDefinition): boolean =>
  then.fields.every((field) =>
    [...table.fields, ...table.retired].some((one) => one.id === field.id && sameColumn(field, one)),
  );

const columnsOf = (then: TableDefinition): string[] => [...AUDIT, ...then.fields.map((field) => field.id)];

/** The columns of then as they are in a row `s` of today. */
export const unchangedColumns = (then: TableDefinition): string =>
  columnsOf(then)
    .map((column) => `s.${quoted(column)}`)
    .join(', ');

/** The same columns, in the same order, out of what the lines of a record add up to: `p`, of the record `s`. */
export const toldColumns = (then: TableDefinition): string =>
  [
    's.id, p.version, s.created_at, s.created_by, p.changed_at, p.changed_by',
    `(p.state->>'archived_at')::timestamptz AS archived_at`,
    ...then.fields.map((field) => `${valueSql(field)} AS ${quoted(field.id)}`),
  ].join(', ');

/** What the lines of the record `s` add up to at a moment. */
const summedSql = (table: TableDefinition, moment: string): string =>
  `SELECT ${STATE} AS state, max(l.version) AS version, max(l.at) AS changed_at, (array_agg(l.account ORDER BY l.id DESC))[1] AS changed_by
   FROM ledger.line l WHERE l.place = 'data.${table.id}' AND l.record = s.id::text AND l.at BETWEEN s.created_at AND ${moment}`;

/**
 * The same as `pastSource`, record by record in the order of their ids: for a page of a table of which most records have changed
 * since, which is not added up as a whole.
 */
export function pageSource(
  table: TableDefinition,
  then: TableDefinition,
  moment: string,
  limit: string | null,
): string {
  if (!holdsThose(table, then)) return pastSource(table, then, moment, limit);
  // The id is that of the row: only so it is known that the records come in its order.
  const columns = [
    's.id',
    ...columnsOf(then)
      .slice(1)
      .map((column) => `r.${quoted(column)}`),
  ];
  return `(SELECT ${columns.join(', ')} FROM ${relation(table.id)} s CROSS JOIN LATERAL (
      SELECT ${unchangedColumns(then)} WHERE s.changed_at <= ${moment}
      UNION ALL SELECT ${toldColumns(then)} FROM (${summedSql(table, moment)}) p WHERE s.changed_at > ${moment} AND p.version IS NOT NULL
    ) r WHERE s.created_at <= ${moment}${limit === null ? '' : ` AND (${limit})`})`;
}

/**
 * What stands behind FROM to read the records of a table as they stood at a moment, with the fields that it had then. A record that
 * nobody has changed since is read as it is, any other from what its lines of the ledger add up to. Of the records that are there today
 * and that `limit` lets see, a condition over `s`; a record that was erased since is not there.
 */
export function pastSource(
  table: TableDefinition,
  then: TableDefinition,
  moment: string,
  limit: string | null,
): string {
  const allowed = limit === null ? '' : ` AND (${limit})`;
  const told = `SELECT ${toldColumns(then)} FROM ${relation(table.id)} s CROSS JOIN LATERAL (${summedSql(table, moment)}) p WHERE s.created_at <= ${moment} AND p.version IS NOT NULL${allowed}`;
  if (!holdsThose(table, then)) return `(${told})`;
  return `(SELECT ${unchangedColumns(then)} FROM ${relation(table.id)} s WHERE s.changed_at <= ${moment}${allowed}
    UNION ALL ${told} AND s.changed_at > ${moment})`;
}
