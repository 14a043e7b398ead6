import { FIRST_ROLES, rightsAnywhere } from '@fiche/core/rights';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { definitionsFor } from '../../access/index.ts';
import { loadDefinitions } from '../../definitions/index.ts';
import { databaseBefore, type TestDatabase } from '../../fixtures/database.ts';
import { verifyLedger } from '../../history/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;

const FORMER: Record<string, string[]> = {
  builder: ['see', 'add', 'change', 'archive', 'history', 'ledger', 'build', 'people', 'erase'],
  clerk: ['see', 'add', 'change', 'archive', 'history'],
  auditor: ['see', 'history', 'ledger'],
  reader: ['see'],
};

/** An office as the version before left it: two cabinets that share the same roles, and a token. */
beforeAll(async () => {
  database = await databaseBefore('015');
  await asActor(owner(), { name: 'harbourmaster', through: { kind: 'seed', label: 'test' } }, async (write) => {
    for (const id of ['quay', 'pier']) await write('fiche.cabinet').insert({ id, label: id });
    for (const [id, rights] of Object.entries(FORMER)) {
      await write('fiche.role').insert({ id, label: id, rights });
      await write('fiche.account').insert({ login: `the${id}`, display_name: id, password_hash: 'argon2id' });
      for (const cabinet of ['quay', 'pier'])
        await write('fiche.membership').insert({ login: `the${id}`, cabinet, role: id });
    }
    await write('fiche.token').insert({
      name: 'gauge-reader',
      cabinet: 'quay',
      role: 'clerk',
      token_hash: 'hash',
      made_by: 'thebuilder',
    });
  });
});
afterAll(() => database.drop());

test('after the upgrade each cabinet has the roles with what they allowed, and the ledger holds', async () => {
  await migrate(owner(), database.ownerUrl);
  const { app } = database.databases;
  const { roles } = await loadDefinitions(app);
  for (const cabinet of ['quay', 'pier'])
    for (const [id, former] of Object.entries(FORMER)) {
      const role = roles.get(cabinet)?.get(id);
      if (!role) throw new Error(`${cabinet} has no ${id}`);
      // Rights that came later: export and import with 015 itself, the outbox with 016.
      const later: readonly string[] = ['export', 'import', 'outbox'];
      const kept = rightsAnywhere(role, new Map()).filter((one) => !later.includes(one));
      expect([...kept].sort(), `${cabinet} ${id}`).toEqual([...former].sort());
    }
  for (const first of FIRST_ROLES) expect(roles.get('pier')?.get(first.id)?.others).toEqual(first.others);
  expect((await definitionsFor(app, 'pier', 'theauditor')).seen?.role.id).toBe('auditor');
  expect((await definitionsFor(app, 'quay', 'token:gauge-reader')).seen?.role.id).toBe('clerk');
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});
