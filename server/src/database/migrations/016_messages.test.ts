import { afterAll, beforeAll, expect, test } from 'vitest';
import { databaseBefore, type TestDatabase } from '../../fixtures/database.ts';
import { verifyLedger } from '../../history/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;

/** An office as the version before left it: a table with a record, and roles that manage people or not. */
beforeAll(async () => {
  database = await databaseBefore('016');
  await asActor(owner(), { name: 'harbourmaster', through: { kind: 'seed', label: 'test' } }, async (write) => {
    await write('fiche.cabinet').insert({ id: 'quay', label: 'Quay' });
    for (const [id, rights] of [
      ['builder', ['ledger', 'build', 'people', 'erase']],
      ['clerk', []],
    ] as const)
      await write('fiche.role').insert({ cabinet: 'quay', id, label: id, rights: [...rights], reach: '{}' });
    for (const login of ['harbourmaster', 'quayclerk'])
      await write('fiche.account').insert({ login, display_name: login, password_hash: 'argon2id' });
    await write.raw(
      `INSERT INTO fiche."table" (id, cabinet, label, position) VALUES ('quay_stays', 'quay', 'Stays', 0)`,
    );
    await write.raw("SELECT fiche.make_record_table('quay_stays')");
    await write.raw('INSERT INTO data.quay_stays (archived_at) VALUES (NULL)');
  });
});
afterAll(() => database.drop());

test('after the upgrade records that were there can be watched, who manages people reads the outbox, and the ledger holds', async () => {
  await migrate(owner(), database.ownerUrl);
  const roles: { id: string; rights: string[] }[] = await owner()('fiche.role').orderBy('id').select('id', 'rights');
  expect(roles).toEqual([
    { id: 'builder', rights: ['ledger', 'build', 'people', 'erase', 'outbox'] },
    { id: 'clerk', rights: [] },
  ]);
  await owner()('fiche.watch').insert({ table_id: 'quay_stays', record: 1, login: 'harbourmaster' });
  await asActor(database.databases.app, { name: 'quayclerk', through: { kind: 'table', label: 'Stays' } }, (write) =>
    write.raw('UPDATE data.quay_stays SET archived_at = now()'),
  );
  expect(await owner()('fiche.notice').select('login', 'by', 'record')).toEqual([
    { login: 'harbourmaster', by: 'quayclerk', record: 1 },
  ]);
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});
