import { afterAll, beforeAll, expect, test } from 'vitest';
import { databaseBefore, type TestDatabase } from '../../fixtures/database.ts';
import { verifyLedger } from '../../history/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;

/** An office as the version before left it: a file that was checked, with a row to correct. */
beforeAll(async () => {
  database = await databaseBefore('012');
  await asActor(owner(), { name: 'harbourmaster', through: { kind: 'import', label: 'berths.csv' } }, async (write) => {
    await write.raw(`INSERT INTO fiche.cabinet (id, label) VALUES ('quay', 'Quay')`);
    await write.raw(
      `INSERT INTO fiche.import (cabinet, account, file, size, state) VALUES ('quay', 'harbourmaster', 'berths.csv', 9, 'checked')`,
    );
  });
  await owner().raw(
    `INSERT INTO fiche.import_bad_row (import, number, cells, problems) SELECT id, 4, '["A-1"]', '[]' FROM fiche.import`,
  );
});
afterAll(() => database.drop());

test('after the upgrade its row can be corrected, the correction goes with the file, and the ledger holds', async () => {
  await migrate(owner(), database.ownerUrl);
  await owner().raw(
    `INSERT INTO fiche.import_correction (import, number, cells) SELECT import, number, '["A-2"]' FROM fiche.import_bad_row`,
  );
  const { rows } = await database.databases.app.raw('SELECT number, cells FROM fiche.import_correction');
  expect(rows).toEqual([{ number: 4, cells: ['A-2'] }]);
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});
