import type { Through } from '@fiche/core/history';
import type { Database, Transaction } from './connection.ts';

/** Who writes, and through what: stamped into the record and its line of history by the database. */
export interface Actor {
  /** An account's login, or `page:` and the slug of a public page. */
  readonly name: string;
  readonly through: Through;
  /** Only honoured for the owner: the moment that seeding gives to a change of the past, ISO 8601. */
  readonly at?: string;
}

/** Runs `work` in one transaction that writes as `actor`: the only way to write. Rolled back when `work` throws. */
export function asActor<T>(
  database: Database,
  actor: Actor,
  work: (transaction: Transaction) => Promise<T>,
): Promise<T> {
  return database.transaction(async (transaction) => {
    await become(transaction, actor);
    return work(transaction);
  });
}

/** Says in an open transaction who writes from here on. */
export async function become(transaction: Transaction, actor: Actor): Promise<void> {
  await transaction.raw(
    "SELECT set_config('fiche.actor', ?, true), set_config('fiche.through', ?, true), set_config('fiche.at', ?, true)",
    [actor.name, JSON.stringify(actor.through), actor.at ?? ''],
  );
}
