import { afterAll, beforeAll, expect, test } from 'vitest';
import { loadDefinitions } from '../../definitions/index.ts';
import { databaseBefore, type TestDatabase } from '../../fixtures/database.ts';
import { verifyLedger } from '../../history/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;
const write = (sql: string) =>
  asActor(owner(), { name: 'harbourmaster', through: { kind: 'studio', label: 'Builder' } }, (transaction) =>
    transaction.raw(sql),
  );

/** An office as the version before left it: what the form editor wrote carries the kind that it had then. */
beforeAll(async () => {
  database = await databaseBefore('011');
  await write(`INSERT INTO fiche.cabinet (id, label) VALUES ('quay', 'Quay')`);
  await write(`INSERT INTO fiche."table" (id, cabinet, label, position) VALUES ('quay_berths', 'quay', 'Berths', 0)`);
  await write(`SELECT fiche.make_record_table('quay_berths')`);
});
afterAll(() => database.drop());

test('after the upgrade everything is in use, can be archived, and the ledger holds', async () => {
  await migrate(owner(), database.ownerUrl);
  const before = await loadDefinitions(owner());
  expect(before.cabinets.get('quay')).toMatchObject({ label: 'Quay', description: '', archived: false });
  expect(before.tables.get('quay_berths')).toMatchObject({ archived: false });

  await write(`UPDATE fiche."table" SET archived_at = now() WHERE id = 'quay_berths'`);
  expect((await loadDefinitions(owner())).tables.get('quay_berths')).toMatchObject({ archived: true });
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});
