import { afterAll, beforeAll, expect, test } from 'vitest';
import { findCaller, tokenHash } from '../../access/index.ts';
import { databaseBefore, type TestDatabase } from '../../fixtures/database.ts';
import { verifyLedger } from '../../history/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;
const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'test' } } as const;

/** An office as the version before left it: a builder and a clerk, who are signed in. */
beforeAll(async () => {
  database = await databaseBefore('014');
  await asActor(owner(), actor, async (write) => {
    await write.raw(`INSERT INTO fiche.cabinet (id, label) VALUES ('quay', 'Quay')`);
    for (const [role, rights] of [
      ['builder', ['see', 'build']],
      ['clerk', ['see', 'add']],
    ] as const) {
      await write('fiche.role').insert({ id: role, label: role, rights: [...rights] });
      await write('fiche.account').insert({ login: `the${role}`, display_name: role, password_hash: 'argon2id' });
      await write('fiche.membership').insert({ login: `the${role}`, cabinet: 'quay', role });
      await write.raw(
        `INSERT INTO fiche.session (token_hash, login, csrf, expires_at) VALUES (?, ?, 'csrf', now() + interval '1 hour')`,
        [tokenHash(role), `the${role}`],
      );
    }
  });
});
afterAll(() => database.drop());

test('after the upgrade who builds manages the people, who is signed in stays so, and the ledger holds', async () => {
  await migrate(owner(), database.ownerUrl);
  const rightsOf = async (role: string) =>
    (await findCaller(database.databases, tokenHash(role))).caller.memberships.get('quay')?.rights;
  // Whoever manages people reads the outbox from 016 on.
  expect([await rightsOf('builder'), await rightsOf('clerk')]).toEqual([['build', 'people', 'outbox'], []]);
  const lines = await owner()('ledger.line')
    .where({ place: 'fiche.role', account: 'upgrade', kind: 'change' })
    .orderBy('id')
    .select('record');
  expect(lines).toEqual([{ record: 'builder' }, { record: 'quay.builder' }]);
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});
