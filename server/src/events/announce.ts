import type { RecordId, TableId } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';

/** The channel on which servers hear what was saved by any of them. */
export const CHANNEL = 'fiche_saved';

/** What was saved: told to whoever has the record open. */
export interface Saved {
  readonly table: TableId;
  readonly record: RecordId | string;
  readonly by: string;
  /** With `PEOPLE`: the record that somebody was named in. */
  readonly about?: { readonly cabinet: string; readonly table: TableId; readonly record: RecordId };
}

/** In place of a table: a session, by the hash of its token, that has ended. */
export const SESSIONS = 'session';

/** In place of a table: one of the people, by login, whom a record names now. */
export const PEOPLE = 'account';

/** Tells each of these people, wherever they are signed in, that a record names them now. */
export const announceAssigned = (
  database: Database | Transaction,
  by: string,
  logins: readonly string[],
  about: NonNullable<Saved['about']>,
): Promise<unknown> =>
  database.raw('SELECT pg_notify(?, json) FROM unnest(?::text[]) AS told(json)', [
    CHANNEL,
    logins.map((login) => JSON.stringify({ table: PEOPLE, record: login, by, about } satisfies Saved)),
  ] as string[]);

/** Tells every server that a session has ended. */
export const announceEnd = (database: Database, session: string): Promise<unknown> =>
  database.raw('SELECT pg_notify(?, ?)', [CHANNEL, JSON.stringify({ table: SESSIONS, record: session, by: '' })]);

/** Tells every server, once the transaction is committed, that a record was changed. */
export async function announce(transaction: Transaction, by: string, table: TableId, record: RecordId): Promise<void> {
  const saved: Saved = { table, record, by };
  await transaction.raw('SELECT pg_notify(?, ?)', [CHANNEL, JSON.stringify(saved)]);
}
