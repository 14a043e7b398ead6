import { afterAll, beforeAll, expect, test } from 'vitest';
import { databaseBefore, type TestDatabase } from '../../fixtures/database.ts';
import { verifyLedger } from '../../history/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;
const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'test' } } as const;

/** An office as the version before left it: a table with a record. */
beforeAll(async () => {
  database = await databaseBefore('017');
  await asActor(owner(), actor, async (write) => {
    await write('fiche.cabinet').insert({ id: 'quay', label: 'Quay' });
    await write('fiche.account').insert({ login: 'harbourmaster', display_name: 'H', password_hash: 'argon2id' });
    await write.raw(
      `INSERT INTO fiche."table" (id, cabinet, label, position) VALUES ('quay_stays', 'quay', 'Stays', 0)`,
    );
    await write.raw("SELECT fiche.make_record_table('quay_stays')");
    await write.raw('INSERT INTO data.quay_stays (archived_at) VALUES (NULL)');
  });
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
