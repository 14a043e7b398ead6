import { sameValue, type Value } from '@fiche/core/fields';
import type { Origin } from '@fiche/core/fills';
import { recordsOf, SeenTables, seesAllOf } from '@fiche/core/queries';
import { fieldAtPath, findField, type RecordId, type TableId, type Tables } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';
import { factsSql, readFacts } from './facts.ts';

type Queryable = Database | Transaction;
export type Origins = Readonly<Record<string, Origin>>;

/**
 * Where the filled values of a record came from, each with what its source says today where that differs. A source that
 * was erased, or whose column has gone, says nothing.
 */
export async function originsOfRecord(
  database: Queryable,
  tables: Tables,
  tableId: TableId,
  record: RecordId,
): Promise<Record<string, Origin>> {
  const row = await database('fiche.origin').where({ table_id: tableId, record }).first('origins');
  const origins = Object.entries(originsSeen(tables, tableId, (row?.origins ?? {}) as Origins));
  const sources = new Map<string, { table: TableId; record: RecordId; paths: Set<string> }>();
  for (const [, { table, record: from, from: path }] of origins) {
    if (path === 'self' || !fieldAtPath(tables, table, path)) continue;
    const key = `${table} ${from}`;
    const source = sources.get(key) ?? { table, record: from, paths: new Set<string>() };
    source.paths.add(path);
    sources.set(key, source);
  }
  const today = new Map<string, Value>();
  for (const [key, { table, record: from, paths }] of sources) {
    const { rows } = await database.raw<{ rows: { facts: Record<string, unknown> }[] }>(
      `SELECT ${factsSql(tables, table, 's', [...paths])} AS facts FROM ${recordsOf(tables, table)} s WHERE s.id = ?`,
      [from],
    );
    if (!rows[0]) continue;
    for (const [path, value] of Object.entries(readFacts(tables, table, rows[0].facts)))
      today.set(`${key} ${path}`, value);
  }
  return Object.fromEntries(
    origins.map(([field, origin]) => {
      const now = today.get(`${origin.table} ${origin.record} ${origin.from}`);
      return [field, now === undefined || sameValue(now, origin.value) ? origin : { ...origin, now }];
    }),
  );
}

/** Origins of the fields, out of the columns, that `tables` lets somebody see; a source that they may not see has no title. */
function originsSeen(tables: Tables, tableId: TableId, origins: Origins): Origins {
  if (!(tables instanceof SeenTables)) return origins;
  const told = Object.entries(origins).flatMap(([field, origin]): [string, Origin][] => {
    const source = origin.from === 'self' ? tables.get(origin.table) : fieldAtPath(tables, origin.table, origin.from);
    if (!source || !findField(tables.get(tableId), field)) return [];
    return [[field, seesAllOf(tables, origin.table) ? origin : { ...origin, title: `#${origin.record}` }]];
  });
  return Object.fromEntries(told);
}

/** Where the filled values of several records of a table came from, by record; without what the sources say today. */
export async function originsOfRecords(
  database: Queryable,
  tables: Tables,
  tableId: TableId,
  records: readonly number[],
): Promise<Map<number, Origins>> {
  if (records.length === 0) return new Map();
  const rows = await database('fiche.origin').where({ table_id: tableId }).whereIn('record', records);
  return new Map(
    rows.map((row): [number, Origins] => [Number(row.record), originsSeen(tables, tableId, row.origins as Origins)]),
  );
}

/** Keeps where the filled values of records came from, by record. In the transaction that changes them. */
export async function keepOrigins(
  transaction: Transaction,
  tableId: TableId,
  origins: readonly (readonly [record: RecordId, origins: Origins])[],
): Promise<void> {
  if (origins.length === 0) return;
  await transaction.raw(
    `INSERT INTO fiche.origin (table_id, record, origins) SELECT ?, (o->>0)::bigint, o->1 FROM jsonb_array_elements(?::jsonb) o
     ON CONFLICT (table_id, record) DO UPDATE SET origins = excluded.origins`,
    [tableId, JSON.stringify(origins)],
  );
}
