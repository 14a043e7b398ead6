import { afterAll, beforeAll, expect, test } from 'vitest';
import { asSuperuser, databaseBefore, type TestDatabase } from '../../fixtures/database.ts';
import { sealLedger, verifyLedger } from '../../history/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;
const actor = { name: 'quayclerk', through: { kind: 'form', label: 'Check-in', version: 1 } } as const;
const write = (...statements: string[]) =>
  asActor(owner(), actor, async (transaction) => {
    for (const sql of statements) await transaction.raw(sql);
  });

/** An office as the version before left it, with what that version wrote without a line. */
beforeAll(async () => {
  database = await databaseBefore('007');
  await write(
    `INSERT INTO fiche.cabinet (id, label) VALUES ('quay', 'Quay')`,
    `INSERT INTO fiche."table" (id, cabinet, label, position) VALUES ('quay_berths', 'quay', 'Berths', 0)`,
    `SELECT fiche.make_record_table('quay_berths')`,
    `INSERT INTO fiche.field (table_id, id, label, type, settings, required, "unique", help, position) VALUES ('quay_berths', 'depth', 'Depth', 'text', '{}', false, false, '', 0)`,
    'ALTER TABLE data.quay_berths ADD COLUMN depth text',
    `SELECT ledger.capture_records('quay_berths')`,
    `INSERT INTO data.quay_berths (depth) VALUES ('2.5'), ('3'), (NULL)`,
    `UPDATE data.quay_berths SET depth = '4' WHERE id = 2`,
    `UPDATE data.quay_berths SET archived_at = now() WHERE id = 3`,
    `INSERT INTO fiche.role VALUES ('clerk', 'Clerk', '{see}')`,
    `INSERT INTO fiche.account (login, display_name, password_hash) VALUES ('quayclerk', 'Quay clerk', 'hash')`,
    `INSERT INTO fiche.membership VALUES ('quayclerk', 'quay', 'clerk')`,
    `INSERT INTO fiche.form (id, cabinet, table_id, draft, live_version, slug, position) VALUES ('quay_round', 'quay', 'quay_berths', '{}', 1, 'round', 0)`,
    `INSERT INTO fiche.form_version VALUES ('quay_round', 1, '{"label": "Round"}', now(), 'quayclerk')`,
    `INSERT INTO fiche.origin VALUES ('quay_berths', 1, '{"depth": {"value": "2.5"}}')`,
    `INSERT INTO fiche.content (id, sha256, size, kind) VALUES (1, encode(sha256('x'), 'hex'), 1, 'text/plain')`,
    `INSERT INTO fiche.content_part VALUES (1, 0, 'x')`,
    `INSERT INTO fiche.file (content, table_id, name, sent_by, claimed_at) VALUES (1, 'quay_berths', 'x.txt', 'quayclerk', now())`,
  );
  await owner().raw(`SELECT ledger.make_seal(10000, '0 s')`);
  // Another type for a field: values were moved without a line.
  await write(
    `SELECT set_config('fiche.rebuilding', 'yes', true)`,
    'ALTER TABLE data.quay_berths ADD COLUMN depth_next numeric',
    `SELECT ledger.capture_records('quay_berths')`,
    'UPDATE data.quay_berths SET depth_next = depth::numeric',
    'ALTER TABLE data.quay_berths DROP COLUMN depth',
    'ALTER TABLE data.quay_berths RENAME COLUMN depth_next TO depth',
    `SELECT ledger.capture_records('quay_berths')`,
    `UPDATE fiche.field SET type = 'decimal'`,
  );
});
afterAll(() => database.drop());

test('an installed office verifies after its upgrade, with the seal that was noted before it, and goes on', async () => {
  const { rows } = await owner().raw(`SELECT encode(hash, 'hex') AS hash FROM ledger.seal`);
  await migrate(owner(), database.ownerUrl);
  const upgraded = await verifyLedger(owner(), { knownSeal: rows[0].hash });
  expect(upgraded.misfits).toEqual([]);
  expect(upgraded.seals).toBe(1);

  await write(
    'UPDATE data.quay_berths SET depth = depth + 1',
    `UPDATE fiche.account SET display_name = 'Clerk of the quay'`,
  );
  await sealLedger(database.databases.app, '0 s');
  expect(await verifyLedger(owner(), { knownSeal: rows[0].hash })).toMatchObject({
    seals: 2,
    unsealed: 0,
    misfits: [],
  });

  await asSuperuser(
    database.superUrl,
    `SET session_replication_role = 'replica'`,
    `UPDATE fiche.account SET password_hash = 'other'`,
  );
  expect((await verifyLedger(owner())).misfits[0]).toMatchObject({ place: 'fiche.account', record: 'quayclerk' });
});

test('values that no line told have one that says it was the upgrade, and what had its lines has none more', async () => {
  const { rows } = await owner().raw(
    `SELECT record, version, account, before, after FROM ledger.line WHERE place = 'data.quay_berths' AND account = 'upgrade' ORDER BY record`,
  );
  expect(rows).toEqual([
    { record: '1', version: 2, account: 'upgrade', before: { depth: '2.5' }, after: { depth: 2.5 } },
    { record: '2', version: 3, account: 'upgrade', before: { depth: '4' }, after: { depth: 4 } },
  ]);
});
