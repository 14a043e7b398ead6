import { afterAll, beforeAll, expect, test } from 'vitest';
import { databaseBefore, type TestDatabase } from '../../fixtures/database.ts';
import { verifyLedger } from '../../history/index.ts';
import { enforceAllCombinations } from '../../tables/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;
const actor = { name: 'quayclerk', through: { kind: 'form', label: 'Check-in', version: 1 } } as const;
const write = (sql: string, pool: 'owner' | 'app' = 'owner') =>
  asActor(database.databases[pool], actor, (transaction) => transaction.raw(sql));

/** An office as the version before left it: two option lists, of which one has a combination twice. */
beforeAll(async () => {
  database = await databaseBefore('009');
  await write(`INSERT INTO fiche.cabinet (id, label) VALUES ('quay', 'Quay')`);
  for (const name of ['quay_dredging', 'quay_gear']) {
    await write(
      `INSERT INTO fiche."table" (id, cabinet, label, kind, position) VALUES ('${name}', 'quay', '${name}', 'list', 0)`,
    );
    await write(`SELECT fiche.make_record_table('${name}')`);
    for (const [at, level] of ['water', 'cause'].entries()) {
      await write(
        `INSERT INTO fiche.field (table_id, id, label, type, settings, required, "unique", help, position) VALUES ('${name}', '${level}', '${level}', 'text', '{}', false, false, '', ${at})`,
      );
      await write(`ALTER TABLE data.${name} ADD COLUMN ${level} text`);
      await write(`GRANT INSERT (${level}), UPDATE (${level}) ON data.${name} TO fiche_app`);
    }
    await write(`SELECT ledger.capture_records('${name}')`);
    await write(`INSERT INTO data.${name} (water, cause) VALUES ('Channel', 'Silt'), ('Channel', 'Rock')`);
  }
  await write(`INSERT INTO data.quay_gear (water, cause) VALUES ('Channel', 'Silt')`);
});
afterAll(() => database.drop());

test('after the upgrade a blank record can be added, and combinations are held where none was there twice', async () => {
  const blank = 'INSERT INTO data.quay_dredging (archived_at) VALUES (NULL)';
  await expect(write(blank, 'app')).rejects.toThrow('permission denied');
  await migrate(owner(), database.ownerUrl);
  await write(blank, 'app');

  await enforceAllCombinations(owner());
  const twice = (list: string) => write(`INSERT INTO data.${list} (water, cause) VALUES ('Channel', 'Rock')`);
  await expect(twice('quay_dredging')).rejects.toThrow('duplicate key');
  // Nothing of an installed list is taken away: it is held once somebody has corrected it.
  await twice('quay_gear');
  await write('UPDATE data.quay_gear SET archived_at = now() WHERE id > 2');
  await enforceAllCombinations(owner());
  await expect(twice('quay_gear')).rejects.toThrow('duplicate key');
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});
