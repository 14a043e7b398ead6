import type { Transaction } from '../database/index.ts';

/** The channel on which servers hear what was saved by any of them. */
export const CHANNEL = 'fiche_saved';

/** What was saved: told to whoever has the record open. */
export interface Saved {
  readonly table: string;
  readonly record: number;
  readonly by: string;
}

/** Tells every server, once the transaction is committed, that a record was changed. */
export async function announce(transaction: Transaction, by: string, table: string, record: number): Promise<void> {
  const saved: Saved = { table, record, by };
  await transaction.raw('SELECT pg_notify(?, ?)', [CHANNEL, JSON.stringify(saved)]);
}
