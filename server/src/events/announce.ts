import type { Database, Transaction } from '../database/index.ts';

/** The channel on which servers hear what was saved by any of them. */
export const CHANNEL = 'fiche_saved';

/** What was saved: told to whoever has the record open. */
export interface Saved {
  readonly table: string;
  readonly record: number | string;
  readonly by: string;
}

/** In place of a table: a session, by the hash of its token, that has ended. */
export const SESSIONS = 'session';

/** Tells every server that a session has ended. */
export const announceEnd = (database: Database, session: string): Promise<unknown> =>
  database.raw('SELECT pg_notify(?, ?)', [CHANNEL, JSON.stringify({ table: SESSIONS, record: session, by: '' })]);

/** Tells every server, once the transaction is committed, that a record was changed. */
export async function announce(transaction: Transaction, by: string, table: string, record: number): Promise<void> {
  const saved: Saved = { table, record, by };
  await transaction.raw('SELECT pg_notify(?, ?)', [CHANNEL, JSON.stringify(saved)]);
}
