import { afterAll, beforeAll, expect, test } from 'vitest';
import { databaseBefore, type TestDatabase } from '../../fixtures/database.ts';
import { verifyLedger } from '../../history/index.ts';
import { viewsOf } from '../../views/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;
const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'test' } } as const;

/** An office as the version before left it: a table with a record, and a view without frozen columns. */
beforeAll(async () => {
  database = await databaseBefore('018');
  await asActor(owner(), actor, async (write) => {
    await write('fiche.cabinet').insert({ id: 'quay', label: 'Quay' });
    await write('fiche.account').insert({ login: 'harbourmaster', display_name: 'H', password_hash: 'argon2id' });
    await write.raw(
      `INSERT INTO fiche."table" (id, cabinet, label, position) VALUES ('quay_stays', 'quay', 'Stays', 0)`,
    );
    await write.raw("SELECT fiche.make_record_table('quay_stays')");
    await write.raw('INSERT INTO data.quay_stays (archived_at) VALUES (NULL)');
    const definition = JSON.stringify({ columns: [{ path: 'number' }], filter: {}, sort: [] });
    await write('fiche.view').insert({ table_id: 'quay_stays', owner: 'harbourmaster', label: 'All', definition });
  });
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
