import type { RecordId, TableId, Tables } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import { titlesOf } from '../records/index.ts';

/**
 * The record that an archived one was merged into, as its reader sees it; undefined for one that was archived otherwise, if only the
 * last time, or that is hidden.
 */
export async function mergedInto(
  app: Database,
  tables: Tables,
  table: TableId,
  record: RecordId,
): Promise<{ id: RecordId; title: string } | undefined> {
  const { rows } = await app.raw<{ rows: { into_record: number }[] }>(
    `SELECT m.into_record FROM fiche.merged m WHERE m.table_id = ? AND m.record = ? AND m.transaction = (
       SELECT l.transaction FROM ledger.line l WHERE l.place = ? AND l.record = ? AND l.kind = 'archive' ORDER BY l.id DESC LIMIT 1)`,
    [table, record, `data.${table}`, String(record)],
  );
  if (!rows[0]) return undefined;
  const id = Number(rows[0].into_record);
  const title = (await titlesOf(app, tables, [{ table, id }])).get(`${table}:${id}`);
  return title === undefined ? undefined : { id, title };
}
