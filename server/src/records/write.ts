import type { RecordView } from '@fiche/core/api';
import type { LinkedRecord } from '@fiche/core/entry';
import { isNumbered, type Values } from '@fiche/core/fields';
import { quoted, relation } from '@fiche/core/queries';
import {
  type FieldDefinition,
  findField,
  type RecordId,
  type TableDefinition,
  type TableId,
  typeOf,
} from '@fiche/core/tables';
import { type Conflict, conflictError, conflictsOf } from '../constraints/index.ts';
import { type Actor, SAID, type Transaction, writeOnce } from '../database/index.ts';
import type { Origins } from './origins.ts';
import { columnsOf, type Queryable, type Row, viewOf } from './store.ts';

/** What makes a save known when it is sent again, kept with the record it made. */
export interface SaveKey {
  readonly key: string;
  readonly bodyHash: string;
}

/** A row of defaults needs one column to be said; the archive mark is the one that every table has. */
const BLANK_ROW = 'archived_at';

/**
 * Adds a record and keeps the key of its save, whole or not at all, in one statement. `linked` has the titles and facts
 * of what the record links to, so that it need not be read back; `origins` says where its filled values came from.
 */
export async function insertRecord(
  database: Queryable,
  actor: Actor,
  table: TableDefinition,
  values: Values,
  linked: Readonly<Record<string, LinkedRecord>> = {},
  save?: SaveKey,
  origins: Origins = {},
): Promise<RecordView> {
  const fields = table.fields.filter((field) => field.id in values);
  const traced = Object.keys(origins).length > 0;
  const rows = await writeOnce<Row>(database, actor, insertSql(table, fields, save !== undefined, traced), [
    ...fields.map((field) => values[field.id] ?? null),
    ...(save ? [actor.name, save.key, save.bodyHash] : []),
    ...(traced ? [table.id, JSON.stringify(origins)] : []),
  ]);
  if (rows.length === 0) throw (await findConflict(database, table, values)) ?? new Error('The row was not written');
  return viewOf(table, rows[0] ?? {}, linked);
}

/** The row that is to be written, as `v`. */
const rowSql = (fields: readonly FieldDefinition[]): string =>
  `(SELECT ${fields.map((field) => `?::${typeOf(field).column(field.settings)} AS ${quoted(field.id)}`).join(', ')}) v`;

/** What a table with a sequence asks of the records that are there before it draws a number for a new one. */
const conflictsBefore = (table: TableDefinition, fields: readonly FieldDefinition[]): Conflict[] =>
  table.fields.some((field) => isNumbered(field))
    ? conflictsOf(
        table,
        fields.map((field) => field.id),
      )
    : [];

/** What the database would refuse of a new record because of one that is there, as it would raise it; undefined if nothing. */
export async function findConflict(
  database: Queryable,
  table: TableDefinition,
  values: Values,
): Promise<Error | undefined> {
  const fields = table.fields.filter((field) => field.id in values);
  const conflicts = conflictsOf(
    table,
    fields.map((field) => field.id),
  );
  if (conflicts.length === 0) return undefined;
  const { rows } = await database.raw<{ rows: Record<string, boolean>[] }>(
    `SELECT ${conflicts.map(({ sql }, n) => `${sql} AS c${n}`).join(', ')} FROM ${rowSql(fields)}`,
    fields.map((field) => values[field.id] ?? null) as string[],
  );
  const found = conflicts.find((_one, n) => rows[0]?.[`c${n}`] === true);
  return found && conflictError(found);
}

/** Statements by table definition and what they write: most saves of a form write the same columns. */
const inserts = new WeakMap<TableDefinition, Map<string, string>>();

function insertSql(
  table: TableDefinition,
  fields: readonly FieldDefinition[],
  keyed: boolean,
  traced: boolean,
): string {
  const known = inserts.get(table) ?? new Map<string, string>();
  inserts.set(table, known);
  const ids = fields.map((field) => field.id);
  const what = `${keyed} ${traced} ${ids.join(' ')}`;
  const before = known.get(what);
  if (before !== undefined) return before;
  const given = fields.map((field) => `?::${typeOf(field).column(field.settings)}`).join(', ');
  const conflicts = conflictsBefore(table, fields);
  const insert =
    fields.length === 0
      ? `(${BLANK_ROW}) SELECT NULL FROM actor`
      : conflicts.length === 0
        ? `(${ids.map(quoted).join(', ')}) SELECT ${given} FROM actor`
        : `(${ids.map(quoted).join(', ')}) SELECT v.* FROM actor, ${rowSql(fields)} WHERE NOT (${conflicts.map((one) => one.sql).join(' OR ')})`;
  const kept = keyed
    ? ', kept AS (INSERT INTO fiche.idempotency (account, key, body_hash, record) SELECT ?, ?, ?, id FROM written)'
    : '';
  const origins = traced
    ? ', traced AS (INSERT INTO fiche.origin (table_id, record, origins) SELECT ?, id, ?::jsonb FROM written)'
    : '';
  const sql = `${SAID}, written AS (INSERT INTO ${relation(table.id)} ${insert} RETURNING ${columnsOf(table)})${kept}${origins} SELECT ${columnsOf(table)} FROM written`;
  if (known.size < 200) known.set(what, sql);
  return sql;
}

/** As many rows as PostgreSQL can take parameters for, with room. */
const ROWS_A_STATEMENT = 200;

/**
 * Adds several records in a few statements; gives their ids in the same order. What a record does not say is left to
 * the column’s default. The actor must be set.
 */
export async function insertRecords(
  transaction: Transaction,
  table: TableDefinition,
  records: readonly Values[],
): Promise<number[]> {
  const ids: number[] = [];
  for (let from = 0; from < records.length; from += ROWS_A_STATEMENT) {
    const some = records.slice(from, from + ROWS_A_STATEMENT);
    const fields = table.fields.filter((field) => some.some((values) => field.id in values));
    const given: unknown[] = [];
    const rows = some.map((values) => {
      const cells = fields.map((field) => {
        if (!(field.id in values)) return 'DEFAULT';
        given.push(values[field.id] ?? null);
        return `?::${typeOf(field).column(field.settings)}`;
      });
      return `(${cells.length === 0 ? 'NULL' : cells.join(', ')})`;
    });
    const columns = fields.length === 0 ? BLANK_ROW : fields.map((field) => quoted(field.id)).join(', ');
    const { rows: written } = await transaction.raw<{ rows: { id: number }[] }>(
      `INSERT INTO ${relation(table.id)} (${columns}) VALUES ${rows.join(', ')} RETURNING id`,
      given as string[],
    );
    ids.push(...written.map((row) => Number(row.id)));
  }
  return ids;
}

/** Changes columns of a record, or takes it out of use and back. The actor must be set. */
export async function updateRecord(
  transaction: Transaction,
  tableId: TableId,
  id: number,
  values: Values,
): Promise<void> {
  const columns = Object.keys(values);
  if (columns.length === 0) return;
  await transaction.raw(
    `UPDATE ${relation(tableId)} SET ${columns.map((column) => `${quoted(column)} = ?`).join(', ')} WHERE id = ?`,
    [...columns.map((column) => values[column] ?? null), id] as string[],
  );
}

/**
 * Changes columns of several records of a table, in a few statements. Records without values stay as they are. The actor
 * must be set.
 */
export async function updateRecords(
  transaction: Transaction,
  table: TableDefinition,
  changes: readonly { readonly id: RecordId; readonly values: Values }[],
): Promise<void> {
  const alike = new Map<string, (readonly [RecordId, Values])[]>();
  for (const { id, values } of changes) {
    const columns = Object.keys(values).sort();
    if (columns.length > 0) alike.set(columns.join(' '), [...(alike.get(columns.join(' ')) ?? []), [id, values]]);
  }
  for (const [key, all] of alike) {
    const fields = key.split(' ').flatMap((id) => findField(table, id) ?? []);
    const types = fields.map((field) => `?::${typeOf(field).column(field.settings)}`).join(', ');
    for (let from = 0; from < all.length; from += ROWS_A_STATEMENT) {
      const some = all.slice(from, from + ROWS_A_STATEMENT);
      await transaction.raw(
        `UPDATE ${relation(table.id)} r SET ${fields.map(({ id }) => `${quoted(id)} = v.${quoted(id)}`).join(', ')}
         FROM (VALUES ${some.map(() => `(?::bigint, ${types})`).join(', ')}) AS v("record#", ${fields.map(({ id }) => quoted(id)).join(', ')})
         WHERE r.id = v."record#"`,
        some.flatMap(([id, values]) => [id, ...fields.map((field) => values[field.id] ?? null)]) as string[],
      );
    }
  }
}
