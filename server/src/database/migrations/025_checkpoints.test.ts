import { afterAll, beforeAll, expect, test } from 'vitest';
import type { TestDatabase } from '../../fixtures/database.ts';
import { officeBefore } from '../../fixtures/officeBefore.ts';
import { verifyLedger } from '../../history/index.ts';
import { makeCheckpoints } from '../../past/index.ts';
import { migrate } from '../index.ts';

let database: TestDatabase;
beforeAll(async () => {
  database = await officeBefore('025');
});
afterAll(() => database.drop());

test('after the upgrade tables are looked at for checkpoints, small ones get none, and the ledger holds', async () => {
  const { owner, app } = database.databases;
  await migrate(owner, database.ownerUrl);
  await makeCheckpoints(owner, true);
  expect(await owner('ledger.checkpoint')).toEqual([]);
  expect((await verifyLedger(owner)).misfits).toEqual([]);
  await expect(app('ledger.checkpoint_record').first()).rejects.toThrow('permission denied');
});
