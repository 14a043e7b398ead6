import { readdir, readFile } from 'node:fs/promises';
import { APP_ROLE, derivedAppPassword, keptSecret } from './connection.ts';
import { APP_LIMITS, type Database, type Transaction } from './pool.ts';
import { scramVerifier } from './scram.ts';

const FOLDER = new URL('./migrations/', import.meta.url);

/**
 * Brings the database to the newest structure, one transaction a step, and makes the ledger's partitions for the
 * months ahead. Run by every server at its start: a lock lets only one work at a time. `until` stops
 * before a step, to make a database as an earlier version left it.
 */
export async function migrate(owner: Database, url: string, until = '999'): Promise<void> {
  const names = (await readdir(FOLDER)).filter((name) => name.endsWith('.sql') && name < until).sort();
  await ensureAppRole(owner, url);
  await owner.transaction(async (transaction) => {
    // A step over a large ledger takes as long as it takes.
    await transaction.raw('SET LOCAL statement_timeout = 0; SET LOCAL lock_timeout = 0');
    await transaction.raw('SELECT pg_advisory_xact_lock(4207849)');
    await transaction.raw(
      'CREATE TABLE IF NOT EXISTS public.fiche_migration (name text PRIMARY KEY, at timestamptz NOT NULL DEFAULT now())',
    );
    const { rows } = await transaction.raw<{ rows: { name: string }[] }>('SELECT name FROM public.fiche_migration');
    const done = new Set(rows.map((row) => row.name));
    const who = await transaction.raw<{ rows: { owner: string }[] }>('SELECT current_user AS owner');
    for (const name of names.filter((one) => !done.has(one))) {
      const sql = await readFile(new URL(name, FOLDER), 'utf8');
      const named = sql.replaceAll('{app}', APP_ROLE).replaceAll('{owner}', who.rows[0]?.owner ?? '');
      await transaction.raw(named.replaceAll('?', '\\?'));
      await transaction.raw('INSERT INTO public.fiche_migration (name) VALUES (?)', [name]);
    }
    await refuseTemporary(transaction);
    await setAppDefaults(transaction);
    await transaction.raw("SELECT ledger.make_partitions(now()::date, (now() + interval '3 months')::date)");
  });
}

/**
 * Keeps all but the owner from making temporary objects, in whose names a function could be misled. A right on the
 * database itself, which neither a copy nor a restore carries over: so it is set at every start.
 */
const refuseTemporary = (owner: Database | Transaction): Promise<unknown> =>
  owner.raw("DO $$ BEGIN EXECUTE format('REVOKE TEMPORARY ON DATABASE %I FROM PUBLIC', current_database()); END $$");

/**
 * Settings of the application's role in this database, which neither a copy nor a restore carries over. What it may take, where a
 * connection does not say so itself: a pooler passes no such settings on. And that no statement is compiled before it runs: over
 * a ledger of many months that takes seconds, for an answer of milliseconds.
 */
async function setAppDefaults(owner: Transaction): Promise<void> {
  const { statement, lock, idle } = APP_LIMITS;
  for (const [setting, limit] of [
    ['statement_timeout', statement],
    ['lock_timeout', lock],
    ['idle_in_transaction_session_timeout', idle],
    ['jit', 'off'],
  ])
    await owner.raw(
      `DO $$ BEGIN EXECUTE format('ALTER ROLE ${APP_ROLE} IN DATABASE %I SET ${setting} = ${limit}', current_database()); END $$`,
    );
}

/** A role belongs to the whole cluster: a server starting on another database of it may be at the same. */
async function ensureAppRole(owner: Database, url: string): Promise<void> {
  const password = derivedAppPassword(url) ?? (await keptSecret(owner));
  for (let tries = 1; ; tries++)
    try {
      const { rows } = await owner.raw<{ rows: unknown[] }>('SELECT 1 FROM pg_roles WHERE rolname = ?', [APP_ROLE]);
      const verb = rows.length === 0 ? 'CREATE' : 'ALTER';
      await owner.raw(`${verb} ROLE ${APP_ROLE} LOGIN PASSWORD '${scramVerifier(password)}'`);
      return;
    } catch (error) {
      if (tries === 20 || !/concurrently|already exists|duplicate key/.test((error as Error).message)) throw error;
    }
}
