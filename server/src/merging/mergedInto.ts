import type { RecordId, TableId, Tables } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import { titlesOf } from '../records/index.ts';

/** The record that an archived one was merged into, as its reader sees it; undefined for one that was not, or that is hidden. */
export async function mergedInto(
  app: Database,
  tables: Tables,
  table: TableId,
  record: RecordId,
): Promise<{ id: RecordId; title: string } | undefined> {
  const row = await app('fiche.merged')
    .where({ table_id: table, record })
    .orderBy('transaction', 'desc')
    .first('into_record');
  if (!row) return undefined;
  const id = Number(row.into_record);
  const title = (await titlesOf(app, tables, [{ table, id }])).get(`${table}:${id}`);
  return title === undefined ? undefined : { id, title };
}
