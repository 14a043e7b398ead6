import pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { freshDatabase, type TestDatabase } from '../fixtures/database.ts';
import { fillForTampering } from '../fixtures/tamperings.ts';
import { verifyLedger } from '../history/index.ts';
import { derivedAppPassword, keptSecret } from './connection.ts';
import { scramVerifier } from './scram.ts';

let database: TestDatabase;
beforeAll(async () => {
  database = await freshDatabase();
  await fillForTampering(database.databases);
});
afterAll(() => database.drop());

/** What somebody tries who can run any SQL as the application's role, with an actor set. */
const ATTACKS: readonly (readonly [what: string, sql: string])[] = [
  ['a temporary table named like a catalog', 'CREATE TEMP TABLE pg_class (oid oid, relnatts int)'],
  ['a type of its own', 'CREATE TYPE pg_temp.text AS (x int)'],
  ['a function of its own', `CREATE FUNCTION public.now() RETURNS timestamptz LANGUAGE sql AS 'SELECT null'`],
  ['a table of its own, to attach a capture function to', 'CREATE TABLE public.mine (id bigint)'],
  [
    'a trigger that captures',
    'CREATE TRIGGER mine AFTER INSERT ON data.quay_berths REFERENCING NEW TABLE AS after_rows FOR EACH STATEMENT EXECUTE FUNCTION ledger.capture_added()',
  ],
  ['a line of its own', `SELECT ledger.write('data.quay_berths', '1', 9, 'change', NULL, '{}')`],
  ['new capture functions', `SELECT ledger.capture_records('quay_berths')`],
  ['the values of lines', `SELECT ledger.erase_values('data.quay_berths', '1')`],
  ['another capture of accounts', `SELECT ledger.watch('fiche.account', 'login', 'login')`],
  ['passwords', 'SELECT password_hash FROM fiche.account'],
  ['a password of its own', `UPDATE fiche.account SET password_hash = 'mine'`],
  ['sessions', 'SELECT token_hash FROM fiche.session'],
  [
    'a session for somebody',
    `INSERT INTO fiche.session (token_hash, login, csrf, expires_at) VALUES ('x', 'quayclerk', 'x', now() + interval '1 day')`,
  ],
  ['bytes of a file', `UPDATE fiche.content_part SET bytes = 'other'`],
  ['more bytes of a file', `INSERT INTO fiche.content_part VALUES (1, 2, 'more')`],
  ['the hash of a file', `UPDATE fiche.content SET sha256 = 'other'`],
  ['the removal of a file', 'DELETE FROM fiche.file'],
  ['letting go of a file', 'UPDATE fiche.file SET claimed_at = NULL'],
  ['a role with every right', `INSERT INTO fiche.role VALUES ('king', 'King', '{build}', 'quay', '{}')`],
  ['a published form', `UPDATE fiche.form_version SET definition = '{}'`],
  ['the generated password', 'SELECT * FROM public.fiche_secret'],
  ['the owner’s role', 'SET SESSION AUTHORIZATION fiche_owner'],
  ['the owner’s rights', 'SET ROLE fiche_owner'],
  ['the triggers', `SET session_replication_role = 'replica'`],
  [
    'a moment of the past',
    `SELECT set_config('fiche.at', '2020-01-01', true); INSERT INTO data.quay_berths (created_at) VALUES ('2020-01-01')`,
  ],
];

describe('somebody with the application’s role does not get', () => {
  test.each(ATTACKS)('%s', async (_what, sql) => {
    const { app } = database.databases;
    await expect(
      app.transaction(async (transaction) => {
        await transaction.raw(`SELECT set_config('fiche.actor', 'quayclerk', true)`);
        await transaction.raw(sql.replaceAll('?', '\\?'));
      }),
    ).rejects.toThrow(
      /permission denied|must be owner|never changes|that a save has named stays|does not exist|cannot set/,
    );
  });

  test('past an actor when it changes where a value came from, and the change is told by a line', async () => {
    const { app, owner } = database.databases;
    const change = `UPDATE fiche.origin SET origins = '{"note": {}}'`;
    await expect(app.raw(change)).rejects.toThrow('No actor');
    await app.transaction(async (transaction) => {
      await transaction.raw(`SELECT set_config('fiche.actor', 'quayclerk', true)`);
      await transaction.raw(change);
    });
    const { rows } = await owner.raw(
      `SELECT account FROM ledger.line WHERE place = 'fiche.origin' ORDER BY id DESC LIMIT 1`,
    );
    expect(rows).toEqual([{ account: 'quayclerk' }]);
    expect((await verifyLedger(owner)).misfits).toEqual([]);
  });
});

test('every function that runs with the owner’s rights looks names up in the catalog first and in temporary objects last', async () => {
  const { rows } = await database.databases.owner.raw(
    `SELECT p.proname, p.proconfig FROM pg_proc p WHERE p.prosecdef AND p.pronamespace IN ('fiche'::regnamespace, 'ledger'::regnamespace)`,
  );
  expect(rows.length).toBeGreaterThan(10);
  for (const { proname, proconfig } of rows) expect(proconfig, proname).toContain('search_path=pg_catalog, pg_temp');
});

test('nobody may run a function of ours by default', async () => {
  const { rows } = await database.databases.owner.raw(
    `SELECT p.proname FROM pg_proc p WHERE p.pronamespace IN ('fiche'::regnamespace, 'ledger'::regnamespace) AND has_function_privilege('public', p.oid, 'EXECUTE')`,
  );
  expect(rows).toEqual([]);
});

test('an owner without a password gives the application one that only the owner can read, the same for every server', async () => {
  const { owner, app } = database.databases;
  const [first, second] = [await keptSecret(owner), await keptSecret(owner)];
  expect(first).toMatch(/^[0-9a-f]{48}$/);
  expect(second).toBe(first);
  expect(derivedAppPassword('postgres://owner@127.0.0.1/fiche')).toBeUndefined();
  await expect(app.raw('SELECT value FROM public.fiche_secret')).rejects.toThrow('permission denied');
});

test('the owner’s password is not the superuser’s, and a password is given to the database as what it keeps of it', async () => {
  expect(new URL(database.ownerUrl).password).not.toBe(new URL(database.superUrl).password);
  const client = new pg.Client({ connectionString: database.superUrl });
  await client.connect();
  try {
    await client.query(`DROP ROLE IF EXISTS fiche_scram_test`);
    await client.query(`CREATE ROLE fiche_scram_test LOGIN PASSWORD '${scramVerifier('pencil and ruler')}'`);
    const as = (password: string) => {
      const url = new URL(database.superUrl);
      url.username = 'fiche_scram_test';
      url.password = password;
      return new pg.Client({ connectionString: url.href });
    };
    const right = as('pencil and ruler');
    await right.connect();
    await right.end();
    await expect(as('pencil').connect()).rejects.toThrow('password authentication failed');
  } finally {
    await client.query(`DROP ROLE fiche_scram_test`);
    await client.end();
  }
});
