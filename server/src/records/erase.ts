import { relation } from '@fiche/core/queries';
import type { Tables } from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';
import { Refusal } from '../http/index.ts';
import { linkingSql, linksTo } from './links.ts';
import { findRecord } from './store.ts';

/**
 * Erases an archived record for good. Refused while another record links to it, and says which tables do. As the owner,
 * in a transaction with an actor.
 */
export async function eraseRecord(
  owner: Transaction,
  tables: Tables,
  tableId: string,
  id: number,
  version: number,
): Promise<void> {
  const record = await findRecord(owner, tables, tableId, id, () => [], true);
  if (!record.archived) throw new Refusal(409, 'Archive this record first: only an archived one can be erased.');
  if (record.version !== version)
    throw new Refusal(409, `${record.stamp.changedBy} has changed this record meanwhile. Look at it again first.`, [], {
      current: record,
    });
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
    throw new Refusal(409, `Other records link to this one: ${linking.join(', ')}. Take those links out first.`);
  await owner.raw('DELETE FROM fiche.origin WHERE table_id = ? AND record = ?', [tableId, id]);
  await owner.raw(`DELETE FROM ${relation(tableId)} WHERE id = ?`, [id]);
}
