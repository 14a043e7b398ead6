import type { RecordPlace } from '@fiche/core/api';
import { recordsOf, relation } from '@fiche/core/queries';
import type { TableId, Tables } from '@fiche/core/tables';
import type { Queryable } from './store.ts';

/** Of a table with more records, by PostgreSQL’s estimate, the place of one is counted only for whoever waits for that. */
const COUNTED_AT_ONCE = 50_000;

/** Where a record stands among the records in use, in order of entry; without numbers in a table of very many. */
export async function placeOf(database: Queryable, tables: Tables, tableId: TableId, id: number): Promise<RecordPlace> {
  const here = `${recordsOf(tables, tableId)} h WHERE archived_at IS NULL`;
  const isSmall = `(SELECT reltuples < ${COUNTED_AT_ONCE} FROM pg_class WHERE oid = '${relation(tableId)}'::regclass)`;
  const { rows } = await database.raw<{ rows: RecordPlace[] }>(
    `SELECT CASE WHEN ${isSmall} THEN (SELECT count(*) FROM ${here} AND id <= ?) END AS position,
       CASE WHEN ${isSmall} THEN (SELECT count(*) FROM ${here}) END AS total,
       (SELECT max(id) FROM ${here} AND id < ?) AS previous,
       (SELECT min(id) FROM ${here} AND id > ?) AS next,
       (SELECT min(id) FROM ${here}) AS first,
       (SELECT max(id) FROM ${here}) AS last`,
    [id, id, id],
  );
  return rows[0] ?? { position: 0, total: 0, previous: null, next: null, first: null, last: null };
}

/** Which of the records in use a record is, from 1, in order of entry, and of how many. */
export async function countPlace(database: Queryable, tables: Tables, tableId: TableId, id: number) {
  const { rows } = await database.raw<{ rows: [{ position: number; total: number }] }>(
    `SELECT count(*) FILTER (WHERE id <= ?) AS position, count(*) AS total
     FROM ${recordsOf(tables, tableId)} h WHERE archived_at IS NULL`,
    [id],
  );
  return rows[0];
}

/** The record in use at a place, from 1, in order of entry; undefined beyond the last. */
export async function recordAt(
  database: Queryable,
  tables: Tables,
  tableId: TableId,
  position: number,
): Promise<number | undefined> {
  const { rows } = await database.raw<{ rows: { id: number }[] }>(
    `SELECT r.id FROM ${recordsOf(tables, tableId)} r WHERE r.archived_at IS NULL ORDER BY r.id OFFSET ? LIMIT 1`,
    [position - 1],
  );
  return rows[0]?.id;
}
