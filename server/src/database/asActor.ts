import type { Through } from '@fiche/core/history';
import { applicationName } from '../tracing/index.ts';
import { ask } from './ask.ts';
import type { Database, Transaction } from './pool.ts';

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
    await setActor(transaction, actor);
    return work(transaction);
  });
}

/** How a statement for `writeOnce` begins: it says who writes, and what selects from `actor` writes as them. */
export const SAID = `WITH actor AS MATERIALIZED (
  SELECT set_config('fiche.actor', ?, true), set_config('fiche.through', ?, true), set_config('fiche.at', ?, true), set_config('application_name', ?, true))`;

/**
 * The same as `asActor` for a single statement, in one round trip: `sql` begins with `SAID`, and every row that it writes
 * has to be selected from its `actor`. Returns the statement's rows.
 */
export async function writeOnce<Row>(
  database: Database | Transaction,
  actor: Actor,
  sql: string,
  values: readonly unknown[],
): Promise<Row[]> {
  const said = [actor.name, JSON.stringify(actor.through), actor.at ?? '', applicationName()];
  return ask<Row>(database, sql, [...said, ...values]);
}

/** Says in an open transaction who writes from here on. */
export async function setActor(transaction: Transaction, actor: Actor): Promise<void> {
  await transaction.raw(
    "SELECT set_config('fiche.actor', ?, true), set_config('fiche.through', ?, true), set_config('fiche.at', ?, true), set_config('application_name', ?, true)",
    [actor.name, JSON.stringify(actor.through), actor.at ?? '', applicationName()],
  );
}
