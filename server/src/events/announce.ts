import type { RecordId, TableId } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';

/** The channel on which servers hear what was saved by any of them. */
export const CHANNEL = 'fiche_saved';

/** What was saved: told to whoever has the record open. */
export interface Saved {
  readonly table: TableId;
  readonly record: RecordId | string;
  readonly by: string;
  /** With `PEOPLE`: whether a record names them now, or their inbox has something else. */
  readonly kind?: 'assigned' | 'changed';
  /** With `assigned`: the record that names them. */
  readonly about?: { readonly cabinet: string; readonly table: TableId; readonly record: RecordId };
}

/** In place of a table: a session, by the hash of its token, that has ended. */
export const SESSIONS = 'session';

/** In place of a table: one of the people, by login, whose inbox has something new. */
export const PEOPLE = 'account';

/** Tells the pages of these people, wherever they are signed in, that their inbox has something new. */
export const announcePeople = (
  database: Database | Transaction,
  by: string,
  logins: readonly string[],
  what: Pick<Saved, 'kind' | 'about'>,
): Promise<unknown> =>
  database.raw('SELECT pg_notify(?, json) FROM unnest(?::text[]) AS told(json)', [
    CHANNEL,
    logins.map((login) => JSON.stringify({ table: PEOPLE, record: login, by, ...what } satisfies Saved)),
  ] as string[]);

/** Tells every server that a session has ended. */
export const announceEnd = (database: Database, session: string): Promise<unknown> =>
  database.raw('SELECT pg_notify(?, ?)', [CHANNEL, JSON.stringify({ table: SESSIONS, record: session, by: '' })]);

/** Tells every server, once the transaction is committed, that a record was changed. */
export async function announce(transaction: Transaction, by: string, table: TableId, record: RecordId): Promise<void> {
  const saved: Saved = { table, record, by };
  await transaction.raw('SELECT pg_notify(?, ?)', [CHANNEL, JSON.stringify(saved)]);
}
