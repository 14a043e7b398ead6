import { readdir, readFile } from 'node:fs/promises';
import { APP_ROLE, appPassword, type Database } from './connection.ts';

const FOLDER = new URL('./migrations/', import.meta.url);

/**
 * Brings the database to the newest structure, one transaction a step, and makes the ledger's partitions for the
 * months ahead. Run by every server at its start: a lock lets only one work at a time.
 */
export async function migrate(owner: Database, url: string): Promise<void> {
  const names = (await readdir(FOLDER)).filter((name) => name.endsWith('.sql')).sort();
  await ensureAppRole(owner, url);
  await owner.transaction(async (transaction) => {
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
    await transaction.raw("SELECT ledger.make_partitions(now()::date, (now() + interval '3 months')::date)");
  });
}

/** A role belongs to the whole cluster: a server starting on another database of it may be at the same. */
async function ensureAppRole(owner: Database, url: string): Promise<void> {
  for (let tries = 1; ; tries++)
    try {
      const { rows } = await owner.raw<{ rows: unknown[] }>('SELECT 1 FROM pg_roles WHERE rolname = ?', [APP_ROLE]);
      const verb = rows.length === 0 ? 'CREATE' : 'ALTER';
      await owner.raw(`${verb} ROLE ${APP_ROLE} LOGIN PASSWORD '${appPassword(url)}'`);
      return;
    } catch (error) {
      if (tries === 20 || !/concurrently|already exists|duplicate key/.test((error as Error).message)) throw error;
    }
}
