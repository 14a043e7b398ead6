import { filesOf, holdsFiles, type Values } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { relation } from '@fiche/core/queries';
import type { TableId, Tables } from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';
import { Refusal } from '../http/index.ts';
import { linkingSql, linksTo } from './links.ts';
import { forgetPast } from './pastKept.ts';
import { findRecord } from './store.ts';

/**
 * Erases an archived record for good: its row, where its values came from, its files, and the values in all of its lines,
 * which go on saying that something was written, when and by whom. Refused while another record links to it, and says which tables do. As the owner,
 * in a transaction with an actor.
 */
export async function eraseRecord(
  owner: Transaction,
  tables: Tables,
  tableId: TableId,
  id: number,
  version: number,
): Promise<void> {
  const record = await findRecord(owner, tables, tableId, id, () => [], true);
  if (!record.archived) throw new Refusal(409, say('Archive this record first: only an archived one can be erased.'));
  if (record.version !== version)
    throw new Refusal(
      409,
      say('{changedBy} has changed this record meanwhile. Look at it again first.', {
        changedBy: record.stamp.changedBy,
      }),
      [],
      {
        current: record,
      },
    );
  const linking: string[] = [];
  for (const { table, field } of linksTo(tables, tableId)) {
    const { rows } = await owner.raw<{ rows: { n: number }[] }>(
      `SELECT count(*) AS n FROM ${relation(table.id)} r WHERE ${linkingSql(field, 'r')}`,
      [id],
    );
    const n = rows[0]?.n ?? 0;
    if (n > 0) linking.push(`${n} of ${table.label} (${field.label})`);
  }
  if (linking.length > 0)
    throw new Refusal(
      409,
      say('Other records link to this one: {list}. Take those links out first.', { list: linking.join(', ') }),
    );
  const files = await filesEverNamed(owner, tables, tableId, id);
  await owner.raw('DELETE FROM fiche.origin WHERE table_id = ? AND record = ?', [tableId, id]);
  await owner.raw('DELETE FROM fiche.line_order WHERE table_id = ? AND record = ?', [tableId, id]);
  await owner.raw(`DELETE FROM ${relation(tableId)} WHERE id = ?`, [id]);
  await eraseMessages(owner, tableId, id);
  await forgetPlannedChanges(owner, tableId);
  await forgetPast(owner, tableId, id);
  await eraseFiles(owner, files);
  await owner.raw('SELECT ledger.erase_values(?, ?)', [`data.${tableId}`, String(id)]);
  await eraseLines(owner, 'fiche.origin', `${tableId}.${id}`);
}

/** Removes who watches a record, what people were told of it, and the words of messages that speak of it. */
async function eraseMessages(owner: Transaction, table: TableId, record: number): Promise<void> {
  await owner.raw('DELETE FROM fiche.watch WHERE table_id = ? AND record = ?', [table, record]);
  await owner.raw('DELETE FROM fiche.notice WHERE table_id = ? AND record = ?', [table, record]);
  await owner.raw(
    `UPDATE fiche.message SET subject = 'Erased', body = 'A record that this message spoke of was erased.',
       state = CASE WHEN state = 'waiting' THEN 'failed' ELSE state END, problem = CASE WHEN state = 'waiting' THEN 'The record was erased before this was sent.' ELSE problem END
     WHERE about @> jsonb_build_array(jsonb_build_object('table', ?::text, 'record', ?::bigint))`,
    [table, record],
  );
}

/** Forgets the changes of many that were planned for a table: they hold values of its records until they are a week old. */
async function forgetPlannedChanges(owner: Transaction, table: TableId): Promise<void> {
  const { rows } = await owner.raw<{ rows: { id: number }[] }>(
    'DELETE FROM fiche.change_plan WHERE table_id = ? RETURNING id',
    [table],
  );
  for (const { id } of rows) await owner.raw(`DROP TABLE IF EXISTS staging."change_${Number(id)}"`);
}

/** Removes the values of the lines of what was erased with a record; where nothing was, there are none. */
const eraseLines = (owner: Transaction, place: string, record: string): Promise<unknown> =>
  owner.raw(
    "SELECT ledger.erase_values(l.place, l.record) FROM (SELECT DISTINCT place, record FROM ledger.line WHERE place = ? AND record = ? AND kind = 'erase') l",
    [place, record],
  );

/** The files that a record names or has named, out of its lines. */
async function filesEverNamed(owner: Transaction, tables: Tables, tableId: TableId, id: number): Promise<string[]> {
  const table = tables.get(tableId);
  const fields = [...(table?.fields ?? []), ...(table?.retired ?? [])].filter((one) => holdsFiles(one));
  if (fields.length === 0) return [];
  const { rows } = await owner.raw<{ rows: { before: Values | null; after: Values | null }[] }>(
    'SELECT before, after FROM ledger.line WHERE place = ? AND record = ?',
    [`data.${tableId}`, String(id)],
  );
  const named = rows.flatMap(({ before, after }) =>
    fields.flatMap((field) => [before?.[field.id], after?.[field.id]].flatMap((value) => filesOf(value ?? null))),
  );
  return [...new Set(named.map((file) => file.id))];
}

/** Erases files with their lines, and the bytes that no other file has. */
async function eraseFiles(owner: Transaction, files: readonly string[]): Promise<void> {
  for (const file of files) {
    const { rows } = await owner.raw<{ rows: { content: number }[] }>(
      'DELETE FROM fiche.file WHERE id = ?::uuid RETURNING content',
      [file],
    );
    const content = rows[0]?.content;
    if (content === undefined) continue;
    await eraseLines(owner, 'fiche.file', file);
    await owner.raw(
      'DELETE FROM fiche.content c WHERE c.id = ? AND NOT EXISTS (SELECT FROM fiche.file f WHERE f.content = c.id)',
      [content],
    );
  }
}
