import type { ListedRole } from '@fiche/core/api';
import type { RoleDefinition } from '@fiche/core/rights';
import { Secret, TOTP } from 'otpauth';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { addLimitedRoles, addStay, IN_FIRST_HARBOUR, LIMITED_ROLES } from '../fixtures/limitedRoles.ts';
import { type Client, clerkRole, PASSWORD, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let master: Client;
let clerk: Client;
const at = '/api/cabinets/quay/roles';

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office, { ...LIMITED_ROLES, porter: { ...clerkRole(), label: 'Porter', rights: ['people'] } });
  await addStay(office, 'harbourmaster', { harbour: 1, note: 'seen' });
  await addStay(office, 'harbourmaster', { harbour: 2, note: 'unseen' });
  master = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
});
afterAll(() => office.close());

const listed = async (id: string): Promise<ListedRole> => {
  const { body } = await master.call('GET', at);
  return body.roles.find((one: ListedRole) => one.role.id === id);
};
const change = async (id: string, more: Partial<RoleDefinition>, as = master, revision?: number) => {
  const { role } = await listed(id);
  const { id: _id, revision: now, ...definition } = role;
  return as.call('PUT', `${at}/${id}`, { definition: { ...definition, ...more }, revision: revision ?? now });
};
const notes = async (client: Client): Promise<string[]> =>
  (await client.call('GET', '/api/tables/quay_stays/records')).body.records.map(
    (one: { values: { note: string } }) => one.values.note,
  );

test('a cabinet begins with its own roles, and one is made as a copy of another', async () => {
  expect((await listed('clerk')).people).toBe(1);
  const made = await master.call('POST', at, { label: 'Night clerk', from: 'clerk' });
  expect(made.body).toMatchObject({ id: 'night_clerk', label: 'Night clerk', others: { see: 'all', add: 'all' } });
  expect((await master.call('POST', at, { label: 'night clerk', from: 'clerk' })).body.errors[0].path).toBe('label');
  expect((await master.call('POST', at, { label: 'Ghost', from: 'ghost' })).body.errors[0].path).toBe('from');
  expect((await master.call('DELETE', `${at}/night_clerk`)).status).toBe(200);
  const kept = await master.call('DELETE', `${at}/clerk`);
  expect([kept.status, kept.body.detail]).toEqual([409, expect.stringContaining('quayclerk has the role Clerk')]);
});

test('a change of a role holds at the next request, and is in the ledger in words', async () => {
  expect(await notes(clerk)).toEqual(['seen', 'unseen']);
  const stays = { ...clerkRole().others, see: IN_FIRST_HARBOUR };
  expect((await change('clerk', { tables: { quay_stays: stays } })).status).toBe(200);
  expect(await notes(clerk)).toEqual(['seen']);
  const ledger = await master.call('GET', '/api/cabinets/quay/ledger?limit=5');
  const line = ledger.body.lines.find((one: { what: string }) => one.what === 'Role');
  expect(line).toMatchObject({ title: 'Clerk', account: 'harbourmaster', kind: 'change' });
  expect(line.changes).toEqual([
    expect.objectContaining({ label: 'Stays: See', before: 'all', after: 'where Harbour is Gannet Quay' }),
  ]);
  expect((await change('clerk', { tables: {} })).status).toBe(200);
  expect(await notes(clerk)).toEqual(['seen', 'unseen']);
});

test('a role that somebody else has changed meanwhile is not overwritten', async () => {
  const { revision } = (await listed('clerk')).role;
  expect((await change('clerk', { history: 'seen' })).status).toBe(200);
  const late = await change('clerk', { history: 'none' }, master, revision);
  expect([late.status, late.body.detail]).toEqual([409, expect.stringContaining('changed the role Clerk meanwhile')]);
  expect((await listed('clerk')).role.history).toBe('seen');
});

test('nobody gives a role more than they may do themselves, and who manages people stays', async () => {
  const porter = await office.signIn('theporter');
  expect((await change('own', { rights: ['erase'] }, porter)).status).toBe(403);
  expect((await change('builder', { history: 'none' }, porter)).status).toBe(403);
  expect((await change('porter', { rights: ['people', 'build'] }, porter)).status).toBe(403);
  expect((await change('own', { history: 'seen' }, porter)).status).toBe(200);
  expect((await change('porter', { rights: [] })).status).toBe(200);
  const last = await change('builder', { rights: ['ledger', 'build', 'erase'] });
  expect([last.status, last.body.detail]).toEqual([409, expect.stringContaining('Nobody could manage the people')]);
  expect((await listed('builder')).role.rights).toContain('people');
});

test('a condition that names no field, or a form, is refused at its place', async () => {
  const condition = (path: string) => ({
    kind: 'group' as const,
    match: 'all' as const,
    of: [{ kind: 'compare' as const, left: { kind: 'column' as const, path }, operator: 'isBlank' as const }],
  });
  const see = (path: string) =>
    change('own', { tables: { quay_stays: { ...clerkRole().others, see: condition(path) } } });
  expect((await see('ghost')).body.errors[0].path).toBe('tables.quay_stays.see');
  expect((await see('harbour.name')).status).toBe(200);
  expect((await change('own', { others: { ...clerkRole().others, see: condition('note') } })).status).toBe(422);
});

test('a role that fills a form without seeing what it requires is worth a look', async () => {
  const { quay_stays: stays } = LIMITED_ROLES.blind.tables;
  if (!stays) throw new Error('The role has no stays');
  await change('blind', { tables: { quay_stays: { ...stays, fields: { harbour: 'hidden' } } } });
  const { findings } = await listed('blind');
  expect(findings).toContainEqual(expect.stringContaining('may fill Check-in and cannot give Harbour'));
  await change('blind', { tables: LIMITED_ROLES.blind.tables });
  expect((await listed('blind')).findings).toEqual([]);
});

test('a role that wants a second factor works once the account has one', async () => {
  await change('ranged', { secondFactor: true });
  const ranged = await office.signIn('theranged');
  const refused = await ranged.call('GET', '/api/cabinets/quay');
  expect([refused.status, refused.body.detail]).toEqual([403, expect.stringContaining('second factor')]);
  expect((await ranged.call('GET', '/api/session')).body.cabinets[0]).toMatchObject({ lacksFactor: true });
  const { secret } = (await ranged.call('POST', '/api/account/second-factor', { password: PASSWORD })).body;
  expect(
    (
      await ranged.call('PUT', '/api/account/second-factor', {
        code: new TOTP({ secret: Secret.fromBase32(secret) }).generate(),
      })
    ).status,
  ).toBe(200);
  expect((await ranged.call('GET', '/api/cabinets/quay')).status).toBe(200);
  await change('ranged', { secondFactor: false });
});

test('a ledger under a role that does not see everything leaves that out, and is not verified under it', async () => {
  await change('blind', { rights: ['ledger'] });
  const blind = await office.signIn('theblind');
  const { status, body } = await blind.call('GET', '/api/cabinets/quay/ledger?limit=200');
  expect([status, JSON.stringify(body).includes('unseen')]).toEqual([200, false]);
  expect((await blind.call('POST', '/api/cabinets/quay/verifications', {})).status).toBe(403);
  await change('blind', { rights: [] });
});

test('a role that is deleted while somebody sees the cabinet as it gives them back their own', async () => {
  await master.call('POST', at, { label: 'Passing', from: 'clerk' });
  const second = await office.signIn('harbourmaster');
  await second.call('PUT', '/api/session/seen-as', { cabinet: 'quay', role: 'passing' });
  expect((await second.call('GET', at)).status).toBe(403);
  expect((await master.call('DELETE', `${at}/passing`)).status).toBe(200);
  expect((await second.call('GET', at)).status).toBe(200);
});

test('a builder sees the cabinet as a role has it, without changing anything, and the ledger says so', async () => {
  const as = (role: string) => master.call('PUT', '/api/session/seen-as', { cabinet: 'quay', role });
  expect((await clerk.call('PUT', '/api/session/seen-as', { cabinet: 'quay', role: 'own' })).status).toBe(403);
  expect((await as('ghost')).status).toBe(404);
  expect((await as('ranged')).status).toBe(200);
  expect(await notes(master)).toEqual(['seen']);
  expect((await master.call('GET', '/api/session')).body.cabinets[0]).toMatchObject({
    role: 'First harbour',
    seenAs: true,
  });
  const entry = { values: { harbour: 1 } };
  const key = { 'idempotency-key': 'seen-as-a-role' };
  expect((await master.call('POST', '/api/tables/quay_stays/entries', entry, key)).status).toBe(403);
  expect((await master.call('GET', at)).status).toBe(403);
  const choices = { field: 'berth', values: {} };
  expect((await master.call('POST', '/api/tables/quay_stays/choices', choices)).status).toBe(200);
  expect((await master.call('DELETE', '/api/session/seen-as')).status).toBe(200);
  expect(await notes(master)).toEqual(['seen', 'unseen']);
  const { lines } = (await master.call('GET', '/api/cabinets/quay/ledger?limit=2')).body;
  expect(lines.map((one: { what: string; title: string; kind: string }) => [one.what, one.title, one.kind])).toEqual([
    ['Seen as a role', 'harbourmaster as First harbour', 'change'],
    ['Seen as a role', 'harbourmaster as First harbour', 'add'],
  ]);
});

test('what people saved is held against a role before it is saved: rights, fields, and the records as they are', async () => {
  const saved = await addStay(office, 'quayclerk', { harbour: 1, note: 'kept' });
  await addStay(office, 'quayclerk', { harbour: 2, note: 'far' });
  const { role } = await listed('clerk');
  const { id: _id, revision: _revision, ...definition } = role;
  const tried = async (rights: Partial<RoleDefinition['others']>, as = master) =>
    as.call('POST', `${at}/clerk/replay`, {
      definition: { ...definition, tables: { quay_stays: { ...definition.others, ...rights } } },
    });
  const { looked, refused } = (await tried({})).body;
  expect([looked >= 2, refused]).toEqual([true, 0]);
  const adding = (await tried({ add: 'none' })).body;
  expect(adding).toMatchObject({ looked, refused: expect.any(Number) });
  expect(adding.reasons).toContainEqual({
    table: 'quay_stays',
    message: 'The role may not add records of Stays.',
    saves: adding.refused,
    examples: expect.arrayContaining([{ record: saved, title: expect.any(String), account: 'quayclerk' }]),
  });
  const noted = (await tried({ fields: { note: 'readOnly' } })).body.reasons;
  expect(noted).toMatchObject([{ message: 'Note is read-only.', examples: expect.any(Array) }]);
  const near = (await tried({ add: IN_FIRST_HARBOUR })).body.reasons;
  expect(near).toMatchObject([{ message: 'It is not among the records that the role may work on.', saves: 1 }]);
  // A save of many lines is one save, and hides none of those before it.
  const actor = { name: 'quayclerk', through: { kind: 'seed', label: 'test' } } as const;
  await asActor(office.database.databases.owner, actor, (owner) =>
    owner.raw("INSERT INTO data.quay_stays (harbour, note) SELECT 1, 'many' FROM generate_series(1, 5001)"),
  );
  expect((await tried({})).body.looked).toBe(looked + 1);
  expect((await tried({ add: 'none' })).body).toMatchObject({ looked: looked + 1, refused: adding.refused + 1 });
  expect((await tried({ change: 'none' })).body).toMatchObject({ refused: 0 });
  expect((await tried({}, clerk)).status).toBe(403);
  expect((await master.call('POST', `${at}/nobody/replay`, { definition })).status).toBe(404);
  // Nothing was written.
  expect((await listed('clerk')).role).toEqual(role);
});
