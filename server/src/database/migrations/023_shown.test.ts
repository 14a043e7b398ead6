import { afterAll, beforeAll, expect, test } from 'vitest';
import type { TestDatabase } from '../../fixtures/database.ts';
import { BEFORE_ACTOR as actor, officeBefore } from '../../fixtures/officeBefore.ts';
import { verifyLedger } from '../../history/index.ts';
import { findView } from '../../views/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;

/** As the version before left it, with a view that says neither how it is shown nor whether it is on Home. */
beforeAll(async () => {
  database = await officeBefore('023');
  await asActor(owner(), actor, (write) =>
    write('fiche.view').insert({
      table_id: 'quay_stays',
      owner: 'harbourmaster',
      label: 'All stays',
      definition: JSON.stringify({
        columns: [{ path: 'vessel' }],
        filter: { kind: 'group', match: 'all', of: [] },
        sort: [],
      }),
      shared: true,
    }),
  );
});
afterAll(() => database.drop());

test('after the upgrade a view is a list as before, stands on nobody’s Home, and the ledger holds', async () => {
  await migrate(owner(), database.ownerUrl);
  expect((await verifyLedger(owner())).misfits).toEqual([]);
  const { id } = await owner()('fiche.view').first('id');
  const reader = { login: 'harbourmaster', role: 'builder', builds: true };
  expect(await findView(owner(), 'quay_stays', reader, Number(id))).toMatchObject({
    shown: { as: 'list' },
    home: false,
  });
  await asActor(owner(), actor, (write) => write('fiche.view').where({ id }).update({ home: true }));
  expect(await findView(owner(), 'quay_stays', reader, Number(id))).toMatchObject({ home: true });
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});
