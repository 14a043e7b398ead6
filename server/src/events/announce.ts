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

/** Records that were added and are told of together; of more in one go nothing else is said. */
const TOLD_TOGETHER = 50;
const SOON = 300;

/** What was added and is not told of yet, by the pool of connections that it was added through. */
const added = new WeakMap<Database, Map<string, Saved>>();

/**
 * Tells every server soon that a record was added, together with others of the same moment: adding stays one statement. To be
 * called once it is there.
 */
export function announceAdded(database: Database, by: string, table: TableId, record: RecordId): void {
  const waiting = added.get(database) ?? new Map<string, Saved>();
  if (waiting.size < TOLD_TOGETHER) waiting.set(`${table} ${record}`, { table, record, by });
  if (added.has(database)) return;
  added.set(database, waiting);
  setTimeout(() => {
    added.delete(database);
    const told = [...waiting.values()].map((saved) => JSON.stringify(saved));
    // Whoever hears nothing sees it when they read the list again.
    database
      .raw('SELECT pg_notify(?, json) FROM unnest(?::text[]) AS told(json)', [CHANNEL, told] as unknown as string[])
      .then(undefined, () => undefined);
  }, SOON).unref();
}

/** In place of a record: so many that none is named. Whoever sees some records of the table only is not told. */
export const MANY = 0;
