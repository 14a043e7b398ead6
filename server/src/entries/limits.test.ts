import { randomUUID } from 'node:crypto';
import { everyAction, type RoleDefinition } from '@fiche/core/rights';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { findRole, touchCabinet, writeRole } from '../definitions/index.ts';
import { addLimitedRoles, addStay, IN_FIRST_HARBOUR, LIMITED_ROLES } from '../fixtures/limitedRoles.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let own: Client;
let ranged: Client;
let blind: Client;
let builder: Client;
const form = '/api/forms/quay_check_in';
const stays = '/api/tables/quay_stays';

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office);
  [own, ranged, blind] = [
    await office.signIn('theown'),
    await office.signIn('theranged'),
    await office.signIn('theblind'),
  ];
  builder = await office.signIn('harbourmaster');
});
afterAll(() => office.close());

const enter = (who: Client, body: object, url = `${form}/entries`) =>
  who.call('POST', url, body, { 'idempotency-key': randomUUID() });
const counted = async (): Promise<number> =>
  Number((await office.database.databases.owner('data.quay_stays').count('* as n'))[0]?.n);
const give = (id: string, change: (role: RoleDefinition) => Partial<RoleDefinition>) =>
  asActor(
    office.database.databases.owner,
    { name: 'harbourmaster', through: { kind: 'seed', label: 'test' } },
    async (owner) => {
      const before = await findRole(owner, 'quay', id);
      if (!before) throw new Error(id);
      await writeRole(owner, 'quay', { ...before, ...change(before) });
      await touchCabinet(owner, 'quay');
    },
  );

test('a role adds records of its own range, and nothing of a refused one stays', async () => {
  const before = await counted();
  const outside = await enter(ranged, { values: { harbour: 2 } });
  expect([outside.status, outside.body.detail]).toEqual([403, expect.stringContaining('own range')]);
  expect(await counted()).toBe(before);
  const inside = await enter(ranged, { values: { harbour: 1, note: 'mine' } });
  expect([inside.status, inside.body.record.values.note]).toEqual([200, 'mine']);
});

test('what a role changes may leave its sight; what it does not see is not there', async () => {
  const near = await addStay(office, 'harbourmaster', { harbour: 1 });
  const far = await addStay(office, 'harbourmaster', { harbour: 2 });
  expect((await enter(ranged, { record: far, version: 1, values: { note: 'a' } })).status).toBe(404);
  const moved = await enter(ranged, { record: near, version: 1, values: { harbour: 2, pontoon: null, berth: null } });
  expect([moved.status, moved.body.record]).toEqual([200, null]);
  expect((await ranged.call('GET', `${stays}/records/${near}`)).status).toBe(404);
  expect((await builder.call('GET', `${stays}/records/${near}`)).body.values.harbour).toBe(2);
});

test('a record that is seen and not one’s own to change is refused', async () => {
  await give('own', (role) => ({
    tables: { quay_stays: { ...everyAction('all'), ...role.tables.quay_stays, see: 'all', fields: {} } },
  }));
  const theirs = await addStay(office, 'harbourmaster', { harbour: 1 });
  const mine = await addStay(office, 'theown', { harbour: 1 });
  const read = await own.call('GET', `${stays}/records/${theirs}`);
  expect([read.status, read.body.may]).toEqual([200, { change: false, archive: false, history: false }]);
  expect((await own.call('GET', `${stays}/records/${mine}`)).body.may).toEqual({
    change: true,
    archive: true,
    history: true,
  });
  expect((await enter(own, { record: theirs, version: 1, values: { note: 'x' } })).status).toBe(403);
  expect((await own.call('POST', `${stays}/records/${theirs}/archive`, { version: 1 })).status).toBe(403);
  expect((await enter(own, { record: mine, version: 1, values: { note: 'x' } })).status).toBe(200);
  await give('own', () => ({ tables: LIMITED_ROLES.own.tables }));
});

test('a hidden field is no field for the role, and a read-only one keeps its value', async () => {
  const id = await addStay(office, 'harbourmaster', { harbour: 1, note: 'secret', persons: 2 });
  const { definition, tables } = (await blind.call('GET', form)).body;
  const items = definition.sections[0].items as { field: string; readOnly: boolean }[];
  expect(items.some((one) => one.field === 'note')).toBe(false);
  expect(items.find((one) => one.field === 'persons')).toMatchObject({ readOnly: true });
  const known = tables.find((one: { id: string }) => one.id === 'quay_stays').fields as { id: string }[];
  expect(known.some((one) => one.id === 'note')).toBe(false);
  const hidden = await enter(blind, { record: id, version: 1, values: { note: 'overwritten' } });
  expect(hidden.body.errors).toEqual([expect.objectContaining({ path: 'note', rule: 'field' })]);
  const readOnly = await enter(blind, { record: id, version: 1, values: { persons: 9 } });
  expect(readOnly.body.errors).toEqual([expect.objectContaining({ path: 'persons', rule: 'readOnly' })]);
  const saved = await enter(blind, { record: id, version: 1, values: { registration: 'GS-0007' } });
  expect([saved.status, saved.body.record.values.note]).toEqual([200, undefined]);
  const whole = (await builder.call('GET', `${stays}/records/${id}`)).body.values;
  expect(whole).toMatchObject({ note: 'secret', persons: 2, registration: 'GS-0007' });
});

test('what a hidden column fills is left to the server', async () => {
  const { definition } = (await blind.call('GET', form)).body;
  const items = definition.sections[0].items as { field: string; fill: { pairs: { to: string }[] } | null }[];
  expect(items.find((one) => one.field === 'registration')?.fill?.pairs.map((one) => one.to)).toEqual(['vessel']);
  const found = await blind.call('POST', `${form}/lookups`, { field: 'registration', key: 'GS-0421' });
  expect(found.body.found[0].facts).toEqual({});
  const saved = await enter(blind, { values: { harbour: 1, registration: 'GS-0421', length: null } });
  expect(saved.body.record.values).toMatchObject({ length: 11.2, vessel: 1 });
});

test('only what a role sees can be chosen; what was chosen before stays', async () => {
  await give('ranged', (role) => ({
    tables: {
      ...role.tables,
      quay_vessels: {
        ...role.others,
        see: {
          kind: 'group',
          match: 'all',
          of: [
            {
              kind: 'compare',
              left: { kind: 'column', path: 'registration' },
              operator: 'is',
              right: { kind: 'constant', value: 'GS-0421' },
            },
          ],
        },
      },
    },
  }));
  const byKey = (key: string) => ranged.call('POST', `${form}/lookups`, { field: 'registration', key });
  expect((await byKey('GS-0421')).body.found).toHaveLength(1);
  expect((await byKey('GS-0007')).body.found).toEqual([]);
  const card = `${stays}/entries`;
  const unseen = await enter(ranged, { values: { harbour: 1, vessel: 2 } }, card);
  expect(unseen.body.errors).toEqual([expect.objectContaining({ path: 'vessel', rule: 'choice' })]);
  const id = await addStay(office, 'harbourmaster', { harbour: 1, vessel: 2 });
  const read = await ranged.call('GET', `${stays}/records/${id}`);
  // That there is one is told, and not which.
  expect([read.body.values.vessel, read.body.linked.vessel.title]).toEqual([2, 'a record that you do not see']);
  const kept = await enter(ranged, { record: id, version: 1, values: { vessel: 2, note: 'kept' } }, card);
  expect([kept.status, kept.body.record.values.vessel]).toEqual([200, 2]);
  await give('ranged', () => ({ tables: LIMITED_ROLES.ranged.tables }));
});

test('lines are held to the rights to their own table', async () => {
  const made = await builder.call('POST', '/api/cabinets/quay/forms', {
    table: 'quay_vessels',
    label: 'Vessel with stays',
    subforms: ['quay_stays.vessel'],
  });
  await builder.call('POST', `/api/forms/${made.body.id}/publish`, { revision: 1 });
  await give('ranged', (role) => ({ tables: { ...role.tables, quay_vessels: everyAction('all') } }));
  const near = await addStay(office, 'harbourmaster', { harbour: 1, vessel: 1 });
  const far = await addStay(office, 'harbourmaster', { harbour: 2, vessel: 1 });
  const opened = await ranged.call('GET', `/api/tables/quay_vessels/records/1?form=${made.body.id}`);
  const shown = Object.values(opened.body.lines as Record<string, { id: number }[]>)[0]?.map((one) => one.id);
  expect(shown).toContain(near);
  expect(shown).not.toContain(far);
  const subform = Object.keys(opened.body.lines)[0] ?? '';
  const save = (lines: object[], version: number) =>
    enter(
      ranged,
      { record: 1, version, values: {}, lines: { [subform]: lines } },
      `/api/forms/${made.body.id}/entries`,
    );
  expect((await save([{ key: 'l1', id: far, version: 1, values: { note: 'x' } }], 1)).status).toBe(404);
  expect((await save([{ key: 'l1', values: { harbour: 2 } }], 1)).status).toBe(403);
  const sound = await save([{ key: 'l1', values: { harbour: 1, note: 'a line' } }], 1);
  expect(sound.status).toBe(200);
  // What the role does not see of the lines stays as it was.
  expect((await builder.call('GET', `${stays}/records/${far}`)).body.values.vessel).toBe(1);
  await give('ranged', () => ({ tables: LIMITED_ROLES.ranged.tables }));
});

test('an import writes within the range of whoever imports', async () => {
  const at = '/api/cabinets/quay/imports';
  const column = (n: number, name: string, to: object, more: object = {}) => ({ at: n, name, to, ...more });
  const field = (id: string) => ({ kind: 'field', field: id });
  const plan = (columns: object[], more: object = {}) => ({
    reading: { kind: 'csv' },
    into: { kind: 'table', table: 'quay_stays' },
    columns,
    ...more,
  });
  const check = async (who: Client, file: string, wanted: object) => {
    const { body } = await who.send(`${at}?file=stays.csv`, file);
    const begun = await who.call('POST', `${at}/${body.id}/check`, { plan: wanted });
    await office.services.tasks.idle();
    return { id: body.id as number, begun };
  };
  const harbour = column(0, 'Harbour', field('harbour'), { matchOn: 'name' });
  const file = 'Harbour,Note\r\nGannet Quay,imported near\r\nTern Cove,imported far\r\n';
  const wanted = plan([harbour, column(1, 'Note', field('note'))]);
  const { id } = await check(ranged, file, wanted);
  const bad = (await ranged.call('GET', `${at}/${id}/bad-rows`)).body.rows;
  expect(bad.map((one: { number: number }) => one.number)).toEqual([3]);
  expect(bad[0].problems[0].message).toContain('outside of your range');
  // Somebody else who does not see everything has no part in it.
  expect((await blind.call('GET', `${at}/${id}`)).status).toBe(404);
  expect((await builder.call('GET', `${at}/${id}`)).status).toBe(200);
  await ranged.call('POST', `${at}/${id}/run`, { rows: 'good' });
  await office.services.tasks.idle();
  const { rows } = await office.database.databases.owner.raw(
    `SELECT note FROM data.quay_stays WHERE note LIKE 'imported%'`,
  );
  expect(rows).toEqual([{ note: 'imported near' }]);
  const refused = await check(blind, file, wanted);
  expect([refused.begun.status, refused.begun.body.detail]).toEqual([
    403,
    expect.stringContaining('may not write Note'),
  ]);
  expect((await own.send(`${at}?file=stays.csv`, file)).status).toBe(403);
});

test('a condition of a right may name a field behind a link, text with any character, and the account', async () => {
  const rights = (path: string, right: object) => ({
    quay_stays: {
      ...LIMITED_ROLES.ranged.others,
      see: {
        kind: 'group' as const,
        match: 'all' as const,
        of: [{ kind: 'compare' as const, left: { kind: 'column' as const, path }, operator: 'is' as const, right }],
      },
    },
  });
  const seen = async (path: string, right: object): Promise<number[]> => {
    await give('ranged', () => ({ tables: rights(path, right) as RoleDefinition['tables'] }));
    const { body } = await ranged.call('GET', `${stays}/records?limit=200`);
    return body.records.map((one: { id: number }) => one.id);
  };
  const odd = `O'Neil? \\ "泊位" 😀 %s $1 :x`;
  const id = await addStay(office, 'harbourmaster', { harbour: 2, note: odd });
  const named = await addStay(office, 'harbourmaster', { harbour: 2, note: 'theranged' });
  expect(await seen('note', { kind: 'constant', value: odd })).toEqual([id]);
  expect(await seen('note', { kind: 'account' })).toEqual([named]);
  expect(await seen('harbour.name', { kind: 'constant', value: 'Tern Cove' })).toEqual(
    expect.arrayContaining([id, named]),
  );
  // A field that has gone names no record, rather than all of them.
  await give('ranged', () => ({
    tables: rights('ghost', { kind: 'constant', value: 'x' }) as RoleDefinition['tables'],
  }));
  expect((await ranged.call('GET', `${stays}/records`)).body.records).toEqual([]);
  await give('ranged', () => ({ tables: { quay_stays: { ...LIMITED_ROLES.ranged.others, see: IN_FIRST_HARBOUR } } }));
});
