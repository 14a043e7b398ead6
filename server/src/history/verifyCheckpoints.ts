import { say } from '@fiche/core/languages';
import { relation } from '@fiche/core/queries';
import type { TableId } from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';
import { type Checkpoint, checkpointsOf, statesSql } from '../past/index.ts';
import type { Found } from './found.ts';

/**
 * Adds up again the lines that checkpoints hold, each from the one before: records of which a checkpoint says something else than
 * their lines, at most `most` of them. Lines themselves are held against their hashes elsewhere.
 */
export async function checkpointMisfits(transaction: Transaction, most: number): Promise<Found[]> {
  const { rows: tables } = await transaction.raw<{ rows: { id: TableId }[] }>(
    `SELECT DISTINCT c.table_id AS id FROM ledger.checkpoint c WHERE to_regclass(format('data.%I', c.table_id)) IS NOT NULL ORDER BY 1`,
  );
  const found: Found[] = [];
  for (const { id } of tables) {
    let from: Checkpoint | undefined;
    for (const checkpoint of await checkpointsOf(transaction, id)) {
      const { rows } = await transaction.raw<{ rows: { record: string }[] }>(
        `SELECT record::text AS record FROM (SELECT * FROM ledger.checkpoint_record WHERE checkpoint = ${checkpoint.id}) k
         FULL JOIN (SELECT p.* FROM ${statesSql(id, checkpoint.moment, from)} p WHERE p.record IN (SELECT s.id FROM ${relation(id)} s)) p USING (record)
         WHERE (k.state, k.version, k.changed_at, k.changed_by) IS DISTINCT FROM (p.state, p.version, p.changed_at, p.changed_by) ORDER BY 1 LIMIT ${most - found.length}`,
      );
      const what = say('the checkpoint of {at} does not hold what its lines say', { at: checkpoint.at });
      found.push(...rows.map(({ record }) => ({ what, line: null, seal: null, place: `data.${id}`, record })));
      if (found.length >= most) return found;
      from = checkpoint;
    }
  }
  return found;
}
