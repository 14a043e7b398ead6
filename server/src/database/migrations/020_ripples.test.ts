import { afterAll, beforeAll, expect, test } from 'vitest';
import { loadDefinitions } from '../../definitions/index.ts';
import type { TestDatabase } from '../../fixtures/database.ts';
import { BEFORE_ACTOR as actor, officeBefore } from '../../fixtures/officeBefore.ts';
import { verifyLedger } from '../../history/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;

beforeAll(async () => {
  database = await officeBefore('020');
});
afterAll(() => database.drop());

test('after the upgrade tables have no ripples, the ledger holds, and what ripples wrote is never rewritten', async () => {
  await migrate(owner(), database.ownerUrl);
  expect((await loadDefinitions(owner())).tables.get('quay_stays')?.ripples).toEqual([]);
  expect((await verifyLedger(owner())).misfits).toEqual([]);
  const ripples = JSON.stringify([{ id: 'one' }]);
  await asActor(owner(), actor, (write) => write.raw('UPDATE fiche."table" SET ripples = ?', [ripples]));
  const { rows } = await owner().raw(
    "SELECT after FROM ledger.line WHERE place = 'fiche.table' ORDER BY id DESC LIMIT 1",
  );
  expect(rows).toEqual([{ after: { ripples: [{ id: 'one' }] } }]);
  const { app } = database.databases;
  await asActor(app, actor, (write) =>
    write('fiche.rippled').insert({
      ripple: 'one',
      table_id: 'quay_stays',
      record: 1,
      to_table: 'quay_stays',
      to_record: 1,
    }),
  );
  await expect(app('fiche.rippled').delete()).rejects.toThrow('permission denied');
  await expect(app('fiche.rippled').update({ record: 2 })).rejects.toThrow('permission denied');
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});
