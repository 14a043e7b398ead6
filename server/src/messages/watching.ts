import type { WatchView } from '@fiche/core/api';
import { recordsOf } from '@fiche/core/queries';
import type { RecordId, TableId, Tables } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import { titlesOf } from '../records/index.ts';
import type { SeenIn } from './notices.ts';

/** Records that one account can watch. */
const MOST_WATCHED = 500;

/** Lets somebody watch a record that they see. Throws 404, and 409 when they watch too many. */
export async function watchRecord(
  app: Database,
  tables: Tables,
  table: TableId,
  record: RecordId,
  login: string,
): Promise<void> {
  const { rows } = await app.raw<{ rows: { watched: number }[] }>(
    `SELECT (SELECT count(*) FROM fiche.watch w WHERE w.login = ?) AS watched FROM ${recordsOf(tables, table)} r WHERE r.id = ?`,
    [login, record],
  );
  if (!rows[0]) throw notFound('This record');
  if (rows[0].watched >= MOST_WATCHED)
    throw new Refusal(
      409,
      `You watch ${MOST_WATCHED} records, which is the most. Stop watching some of them first, on the page of your account.`,
    );
  await app.raw('INSERT INTO fiche.watch (table_id, record, login) VALUES (?, ?, ?) ON CONFLICT DO NOTHING', [
    table,
    record,
    login,
  ]);
}

export const unwatchRecord = (app: Database, table: TableId, record: RecordId, login: string): Promise<unknown> =>
  app.raw('DELETE FROM fiche.watch WHERE table_id = ? AND record = ? AND login = ?', [table, record, login]);

/** The records that somebody watches and sees, newest first. */
export async function listWatches(app: Database, login: string, seenIn: SeenIn): Promise<WatchView[]> {
  const { rows } = await app.raw<{ rows: { cabinet: string; table: TableId; record: number; since: string }[] }>(
    `SELECT t.cabinet, w.table_id AS "table", w.record, w.since FROM fiche.watch w JOIN fiche."table" t ON t.id = w.table_id
     WHERE w.login = ? ORDER BY w.since DESC, w.table_id, w.record DESC`,
    [login],
  );
  const titles = new Map<string, string>();
  for (const cabinet of new Set(rows.map((row) => row.cabinet))) {
    const tables = seenIn(cabinet)?.tables;
    if (!tables) continue;
    const own = rows.filter((row) => row.cabinet === cabinet);
    const wanted = own.map(({ table, record }) => ({ table, id: record }));
    for (const [key, title] of await titlesOf(app, tables, wanted)) titles.set(key, title);
  }
  return rows.flatMap(({ cabinet, table: id, record, since }) => {
    const table = seenIn(cabinet)?.tables.get(id);
    const title = titles.get(`${id}:${record}`);
    return !table || title === undefined
      ? []
      : [{ cabinet, table: { id: table.id, label: table.label }, record, title, since }];
  });
}
