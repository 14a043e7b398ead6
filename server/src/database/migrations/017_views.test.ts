import { afterAll, beforeAll, expect, test } from 'vitest';
import type { TestDatabase } from '../../fixtures/database.ts';
import { BEFORE_ACTOR as actor, officeBefore } from '../../fixtures/officeBefore.ts';
import { verifyLedger } from '../../history/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;

beforeAll(async () => {
  database = await officeBefore('017');
});
afterAll(() => database.drop());

test('after the upgrade a table has views, one of which it opens on, and the ledger holds', async () => {
  await migrate(owner(), database.ownerUrl);
  const view = {
    table_id: 'quay_stays',
    owner: 'harbourmaster',
    label: 'All',
    definition: '{}',
    shared: true,
    opens: true,
  };
  await asActor(owner(), actor, (write) => write('fiche.view').insert(view));
  await expect(asActor(owner(), actor, (write) => write('fiche.view').insert(view))).rejects.toThrow('view_opens_once');
  await expect(
    asActor(owner(), actor, (write) => write('fiche.view').insert({ ...view, shared: false })),
  ).rejects.toThrow('check constraint');
  const { rows } = await owner().raw("SELECT kind FROM ledger.line WHERE place = 'fiche.view'");
  expect(rows).toEqual([{ kind: 'add' }]);
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});
