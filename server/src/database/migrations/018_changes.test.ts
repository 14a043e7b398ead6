import { afterAll, beforeAll, expect, test } from 'vitest';
import type { TestDatabase } from '../../fixtures/database.ts';
import { BEFORE_ACTOR as actor, officeBefore } from '../../fixtures/officeBefore.ts';
import { verifyLedger } from '../../history/index.ts';
import { viewsOf } from '../../views/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;

/** As the version before left it, with a view without frozen columns. */
beforeAll(async () => {
  database = await officeBefore('018');
  const definition = JSON.stringify({ columns: [{ path: 'number' }], filter: {}, sort: [] });
  await asActor(owner(), actor, (write) =>
    write('fiche.view').insert({ table_id: 'quay_stays', owner: 'harbourmaster', label: 'All', definition }),
  );
});
afterAll(() => database.drop());

test('after the upgrade a change of many is captured with its counts, its plan is not, and the ledger holds', async () => {
  await migrate(owner(), database.ownerUrl);
  const change = { cabinet: 'quay', table_id: 'quay_stays' };
  await owner()('fiche.change_plan').insert({ ...change, account: 'harbourmaster', plan: '{}' });
  const counts = JSON.stringify({ found: 1, change: 1, same: 0, refused: 0 });
  await asActor(owner(), actor, (write) => write('fiche.change').insert({ ...change, id: 1, what: '{}', counts }));
  const { rows } = await owner().raw("SELECT kind, after FROM ledger.line WHERE place LIKE 'fiche.change%'");
  expect(rows).toEqual([{ kind: 'add', after: { table_id: 'quay_stays', what: {}, counts: JSON.parse(counts) } }]);
  // The application plans nothing by itself, and rewrites no change.
  await expect(database.databases.app.raw('DELETE FROM fiche.change')).rejects.toThrow('permission denied');
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});

test('a view of the version before has one frozen column and no groups', async () => {
  const reader = { login: 'harbourmaster', role: 'builder', builds: true };
  expect(await viewsOf(owner(), 'quay_stays', reader)).toMatchObject([{ label: 'All', frozen: 1, group: null }]);
});
