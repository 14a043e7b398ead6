import { afterAll, beforeAll, expect, test } from 'vitest';
import type { TestDatabase } from '../../fixtures/database.ts';
import { officeBefore } from '../../fixtures/officeBefore.ts';
import { verifyLedger } from '../../history/index.ts';
import { migrate } from '../index.ts';

let database: TestDatabase;
beforeAll(async () => {
  database = await officeBefore('024');
});
afterAll(() => database.drop());

test('after the upgrade backups can be noted by the owner and read by the application, and the ledger holds', async () => {
  const { owner, app } = database.databases;
  await migrate(owner, database.ownerUrl);
  expect((await verifyLedger(owner)).misfits).toEqual([]);
  expect(await app('fiche.backup')).toEqual([]);
  const noted = { kind: 'base', state: 'running', place: '/backups/1', encrypted: true };
  await owner('fiche.backup').insert(noted);
  expect(await app('fiche.backup').first('kind', 'state', 'place', 'encrypted')).toEqual(noted);
  await expect(app('fiche.backup').update({ state: 'done' })).rejects.toThrow('permission denied');
});

test('the application’s role has limits of its own in this database, for connections that a pooler makes, and compiles nothing', async () => {
  const { rows } = await database.databases.owner.raw<{ rows: { limits: string[] }[] }>(
    "SELECT setconfig AS limits FROM pg_db_role_setting s JOIN pg_roles r ON r.oid = s.setrole JOIN pg_database d ON d.oid = s.setdatabase WHERE r.rolname = 'fiche_app' AND d.datname = current_database()",
  );
  expect(rows[0]?.limits).toEqual([
    'statement_timeout=20000',
    'lock_timeout=5000',
    'idle_in_transaction_session_timeout=30000',
    'jit=off',
  ]);
});
