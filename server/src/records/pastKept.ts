import type { RecordId, TableId } from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';

/**
 * Keeps an erasure and what adds up lines of the same table apart until the transaction ends: what was added up before is there
 * for the erasure to remove, and what is added up afterwards no longer finds what was erased. `shared` is for adding up.
 */
export const lockPast = (write: Transaction, table: TableId, how: 'shared' | 'alone'): Promise<unknown> =>
  write.raw(`SELECT pg_advisory_xact_lock${how === 'shared' ? '_shared' : ''}(hashtextextended(?, 0))`, [
    `past of ${table}`,
  ]);

/** Removes a record that is being erased from what is kept of its table as it stood once. As the owner, in a transaction. */
export async function forgetPast(owner: Transaction, table: TableId, record: RecordId): Promise<void> {
  await lockPast(owner, table, 'alone');
  await owner.raw(
    'DELETE FROM ledger.checkpoint_record r USING ledger.checkpoint c WHERE c.table_id = ? AND r.checkpoint = c.id AND r.record = ?',
    [table, record],
  );
  const { rows } = await owner.raw<{ rows: { name: string }[] }>(
    'DELETE FROM fiche.past_snapshot WHERE table_id = ? RETURNING name',
    [table],
  );
  for (const { name } of rows) await owner.raw(`DROP TABLE IF EXISTS staging."${name}"`);
}
