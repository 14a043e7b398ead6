import type { EverythingHeld } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { recordsOf } from '@fiche/core/queries';
import type { TableId } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import { findRecord, linkingSql, linksTo, originsOfRecord } from '../records/index.ts';
import { allRecordLines } from './store.ts';

/** Records that link to one that are told in full; the rest are counted. */
const MOST_TOLD = 500;

/** The lines of a record; none where the caller sees the record and not its history. */
const linesTold = (app: Database, definitions: Definitions, table: TableId, id: number) =>
  allRecordLines(app, definitions, table, id).catch((error: unknown) => {
    if (error instanceof Refusal && error.status === 404) return [];
    throw error;
  });

/**
 * Everything that is held about one record, for somebody who asks what is known of them: the record, where its values
 * came from, its history, and every record that links to it with its history.
 */
export async function everythingHeld(
  app: Database,
  definitions: Definitions,
  tableId: TableId,
  id: number,
): Promise<EverythingHeld> {
  const { tables } = definitions;
  const table = tables.get(tableId);
  if (!table) throw notFound(say('This table'));
  const record = await findRecord(app, tables, tableId, id);
  const linking: EverythingHeld['linking'] = [];
  for (const { table: from, field } of linksTo(tables, tableId)) {
    const { rows } = await app.raw<{ rows: { id: number; count: number }[] }>(
      `SELECT r.id, count(*) OVER () AS count FROM ${recordsOf(tables, from.id)} r WHERE ${linkingSql(field, 'r')} ORDER BY r.id LIMIT ${MOST_TOLD}`,
      [id],
    );
    if (rows.length === 0) continue;
    const records = [];
    for (const row of rows)
      records.push({
        record: await findRecord(app, tables, from.id, row.id),
        lines: await linesTold(app, definitions, from.id, row.id),
      });
    linking.push({ table: from.id, label: from.label, field: field.label, count: rows[0]?.count ?? 0, records });
  }
  return {
    table: table.label,
    record: { ...record, origins: await originsOfRecord(app, tables, tableId, id) },
    lines: await linesTold(app, definitions, tableId, id),
    linking,
  };
}
