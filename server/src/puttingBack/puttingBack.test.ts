import fc from 'fast-check';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { addLimitedRoles } from '../fixtures/limitedRoles.ts';
import { type Answer, type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { verifyLedger } from '../history/index.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
const owner = () => office.database.databases.owner;

let keys = 0;
const save = (values: object, more: object = {}, who = clerk): Promise<Answer> =>
  who.call(
    'POST',
    '/api/tables/quay_stays/entries',
    { values: { harbour: 1, ...values }, ...more },
    { 'idempotency-key': `back-${++keys}-0000` },
  );
const rowOf = async (id: number, table = 'quay_stays'): Promise<Record<string, unknown>> =>
  owner()(`data.${table}`).where({ id }).first();
const add = async (values: object): Promise<number> => {
  const { status, body } = await save(values);
  expect(status, JSON.stringify(body)).toBe(200);
  return body.record.id;
};
const change = async (record: number, values: object, who = clerk): Promise<void> => {
  const { status, body } = await save(values, { record, version: Number((await rowOf(record)).version) }, who);
  expect(status, JSON.stringify(body)).toBe(200);
};
/** The newest save of a record. */
const lastSave = async (record: number, table = 'quay_stays'): Promise<number> =>
  (await builder.call('GET', `/api/tables/${table}/records/${record}/history`)).body.lines[0].transaction;
const putBack = (transaction: number, what: 'look' | 'all' | 'possible' = 'all', who = builder): Promise<Answer> =>
  who.call('POST', `/api/cabinets/quay/saves/${transaction}/put-back`, { do: what });

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office);
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
});
afterAll(async () => {
  expect((await verifyLedger(owner())).misfits).toEqual([]);
  await office.close();
});

describe('a save is put back', () => {
  test('a change: looked at first, then written as a change of its own', async () => {
    const id = await add({ note: 'first', persons: 2 });
    await change(id, { note: 'second', persons: 3 });
    const saved = await lastSave(id);
    const looked = await putBack(saved, 'look');
    expect(looked.body).toMatchObject({
      written: false,
      counts: { back: 1, same: 0, stay: 0, unseen: 0 },
      records: [
        {
          record: id,
          what: 'Stays',
          becomes: 'changed',
          problem: null,
          changes: [
            { field: 'persons', before: '3', after: '2' },
            { field: 'note', before: 'second', after: 'first' },
          ],
        },
      ],
    });
    expect((await rowOf(id)).note).toBe('second');
    const { at } = (await builder.call('GET', `/api/tables/quay_stays/records/${id}/history`)).body.lines[0];
    const url = `/api/cabinets/quay/saves/${saved}/put-back`;
    expect((await builder.call('POST', url, { do: 'look', at })).body.counts).toMatchObject({ back: 1 });
    expect((await builder.call('POST', url, { do: 'look', at: '2020-01-01T10:00:00Z' })).status).toBe(404);
    expect((await putBack(saved)).body).toMatchObject({ written: true, counts: { back: 1 } });
    expect(await rowOf(id)).toMatchObject({ note: 'first', persons: 2, changed_by: 'harbourmaster', version: 3 });
    const { lines } = (await builder.call('GET', `/api/tables/quay_stays/records/${id}/history`)).body;
    expect(lines[0].through).toMatch(/^Put back: the save by quayclerk of /);
  });

  test('and put back again it is where it was, whatever was written', async () => {
    const values = fc.record(
      {
        note: fc.constantFrom('a', 'b', null),
        persons: fc.constantFrom(1, 2, 3, null),
        length: fc.constantFrom(5, 6.5, null),
      },
      { requiredKeys: ['note'] },
    );
    await fc.assert(
      fc.asyncProperty(values, values, async (one, other) => {
        const id = await add(one);
        const before = await rowOf(id);
        await change(id, other);
        const after = await rowOf(id);
        if (after.version === before.version) return;
        const saved = await lastSave(id);
        await putBack(saved);
        const plain = ({ version: _v, changed_at: _a, changed_by: _b, ...row }: Record<string, unknown>) => row;
        expect(plain(await rowOf(id))).toEqual(plain(before));
        await putBack(await lastSave(id));
        expect(plain(await rowOf(id))).toEqual(plain(after));
      }),
      { numRuns: 15 },
    );
  });

  test('what it added goes out of use, what it archived comes back', async () => {
    const id = await add({ note: 'new' });
    const added = await lastSave(id);
    expect((await putBack(added)).body.records).toMatchObject([{ becomes: 'archived', problem: null }]);
    expect((await rowOf(id)).archived_at).not.toBeNull();
    expect((await putBack(await lastSave(id))).body.records).toMatchObject([{ becomes: 'restored' }]);
    expect((await rowOf(id)).archived_at).toBeNull();
  });

  test('but what others have changed since, what a rule refuses, and what was erased stays, and says why', async () => {
    const id = await add({ note: 'first' });
    await change(id, { note: 'second' });
    const saved = await lastSave(id);
    await change(id, { note: 'third' }, builder);
    const since = await putBack(saved);
    expect([since.status, since.body.detail]).toEqual([422, '1 of 1 records cannot be put back.']);
    expect((await putBack(saved, 'look')).body.records).toMatchObject([
      { problem: 'harbourmaster has changed Note since. It stays as it is.' },
    ]);
    // A rule of the table holds for what is put back as well.
    const ruled = await add({ arrival: '2026-08-01T10:00', departure: '2026-08-02T10:00' });
    await change(ruled, { arrival: '2026-08-05T10:00', departure: '2026-08-06T10:00' });
    const moved = await lastSave(ruled);
    const rules = [
      {
        id: 'late',
        kind: 'stop',
        when: null,
        at: 'arrival',
        message: 'Arrivals are from 3 August on.',
        examples: [],
        must: {
          kind: 'compare',
          left: { kind: 'form', path: 'arrival' },
          operator: 'atLeast',
          right: { kind: 'constant', value: '2026-08-03T00:00' },
        },
      },
    ];
    await builder.call('PATCH', '/api/tables/quay_stays', { rules });
    expect((await putBack(moved, 'look')).body.records).toMatchObject([{ problem: 'Arrivals are from 3 August on.' }]);
    await builder.call('PATCH', '/api/tables/quay_stays', { rules: [] });
    const gone = await add({ note: 'private' });
    const madeBy = await lastSave(gone);
    await builder.call('POST', `/api/tables/quay_stays/records/${gone}/archive`, { version: 1 });
    await builder.call('DELETE', `/api/tables/quay_stays/records/${gone}`, { version: 2, reason: 'asked for' });
    expect((await putBack(madeBy)).status).toBe(404);
  });

  test('within the rights of who puts back', async () => {
    const id = await add({ harbour: 1, note: 'first' });
    await change(id, { note: 'second', persons: 4 });
    const saved = await lastSave(id);
    const auditor = await office.signIn('auditor');
    expect((await putBack(saved, 'look', auditor)).body.records).toMatchObject([
      { problem: 'Your role may not change this record of Stays.' },
    ]);
    // A field that a role does not see is neither put back nor told of; one that is read-only stays.
    const blind = await office.signIn('theblind');
    expect((await putBack(saved, 'look', blind)).body.records).toMatchObject([
      { problem: expect.stringContaining('Nothing of it is written by you'), changes: [] },
    ]);
    const ranged = await office.signIn('theranged');
    await change(id, { harbour: 2 });
    expect((await putBack(saved, 'look', ranged)).status).toBe(404);
    const stranger = await office.signIn('stranger');
    expect((await putBack(saved, 'look', stranger)).status).toBe(404);
  });
});

describe('with what belongs to it', () => {
  beforeEach(async () => {
    if (await owner()('fiche.table').where({ id: 'quay_notes_kept' }).first()) return;
    await builder.call('POST', '/api/cabinets/quay/tables', { label: 'Notes kept' });
    for (const field of [
      { label: 'Note', type: 'text' },
      { label: 'Stay', type: 'link', settings: { table: 'quay_stays' } },
    ])
      await builder.call('POST', '/api/tables/quay_notes_kept/fields', { field });
    const ripple = {
      id: 'kept',
      label: 'Kept',
      on: ['added', 'changed'],
      fields: ['note'],
      when: { kind: 'group', match: 'all', of: [] },
      effects: [
        {
          does: 'add',
          table: 'quay_notes_kept',
          values: [
            { to: 'note', from: { kind: 'field', path: 'note' } },
            { to: 'stay', from: { kind: 'record' } },
          ],
        },
      ],
    };
    expect((await builder.call('PATCH', '/api/tables/quay_stays', { ripples: [ripple] })).status).toBe(200);
  });

  test('a save takes back what its ripples wrote, and sets off ripples itself', async () => {
    const id = await add({ note: 'first' });
    await change(id, { note: 'second' });
    const saved = await lastSave(id);
    expect((await putBack(saved)).body.counts).toMatchObject({ back: 2, stay: 0 });
    const kept = await owner()('data.quay_notes_kept').where({ stay: id }).orderBy('id');
    expect(kept.map((one) => [one.note, one.archived_at !== null])).toEqual([
      ['first', false],
      ['second', true],
      ['first', false],
    ]);
  });

  test('an import is put back as one: what it added is archived, what it changed is as before', async () => {
    const id = await add({ note: 'before the file', registration: 'GS-0007' });
    const { body: file } = await builder.send(
      '/api/cabinets/quay/imports?file=stays.csv',
      'Registration,Harbour,Note\nGS-0007,Gannet Quay,from the file\nGS-0421,Gannet Quay,new by the file\n',
    );
    const column = (at: number, name: string, more: object = {}) => ({
      name,
      at,
      to: { kind: 'field', field: name.toLowerCase() },
      ...more,
    });
    const plan = {
      reading: { kind: 'csv' },
      into: { kind: 'table', table: 'quay_stays' },
      key: ['registration'],
      columns: [column(0, 'Registration'), column(1, 'Harbour', { matchOn: 'name' }), column(2, 'Note')],
    };
    const checked = await builder.call('POST', `/api/cabinets/quay/imports/${file.id}/check`, { plan });
    expect(checked.status, JSON.stringify(checked.body)).toBe(200);
    await office.services.tasks.idle();
    await builder.call('POST', `/api/cabinets/quay/imports/${file.id}/run`, { rows: 'all' });
    await office.services.tasks.idle();
    expect((await rowOf(id)).note).toBe('from the file');
    const { body } = await builder.call('GET', '/api/cabinets/quay/ledger?limit=5');
    const entry = body.lines.find((line: { import: number | null }) => line.import !== null);
    const done = await putBack(entry.transaction);
    expect(done.body.counts).toMatchObject({ back: 4, stay: 0 });
    expect((await rowOf(id)).note).toBe('before the file');
    expect((await owner()('data.quay_stays').where({ note: 'new by the file' }).first()).archived_at).not.toBeNull();
  });

  test('a save of thousands of records is put back in its parts: what it added, and what it changed', async () => {
    const [one, other] = [await add({ note: 'before the many' }), await add({ note: 'before the many' })];
    await asActor(owner(), { name: 'quayclerk', through: { kind: 'import', label: 'many.csv' } }, async (write) => {
      await write.raw("INSERT INTO data.quay_stays (harbour, note) SELECT 1, 'of many' FROM generate_series(1, 5100)");
      await write.raw("UPDATE data.quay_stays SET note = 'by the many' WHERE id = ANY(?)", [[one, other]]);
      // What it changed of what it added belongs to what it added.
      await write.raw("UPDATE data.quay_stays SET persons = 2 WHERE note = 'of many' AND id % 2 = 0");
    });
    const many = await owner()('data.quay_stays').where({ note: 'of many' }).orderBy('id');
    const save = await lastSave(one);
    const looked = (await builder.call('POST', `/api/cabinets/quay/saves/${save}/put-back`, { do: 'look' })).body;
    expect(looked).toMatchObject({ written: false, parts: [{ table: 'quay_stays', added: 5100, changed: 2 }] });
    expect((await builder.call('POST', `/api/cabinets/quay/saves/${save}/put-back`, { do: 'all' })).status).toBe(422);
    // Somebody has used one of the added, and changed one of the changed since.
    await builder.call('POST', `/api/tables/quay_stays/records/${many[0].id}/archive`, { version: many[0].version });
    await builder.call('POST', `/api/tables/quay_stays/records/${many[0].id}/restore`, {
      version: many[0].version + 1,
    });
    await asActor(owner(), { name: 'harbourmaster', through: { kind: 'seed', label: 'test' } }, (write) =>
      write.raw("UPDATE data.quay_stays SET note = 'since' WHERE id = ?", [other]),
    );
    const writePart = async (part: 'added' | 'changed') => {
      const { body } = await builder.call('POST', `/api/tables/quay_stays/saves/${save}/put-back`, { part });
      await office.services.tasks.idle();
      const at = `/api/tables/quay_stays/changes/${body.id}`;
      const found = (await builder.call('GET', at)).body;
      await builder.call('POST', `${at}/run`, { records: 'good' });
      await office.services.tasks.idle();
      return { at, counts: found.counts, refused: found.refused };
    };
    const added = await writePart('added');
    expect(added.counts).toMatchObject({ found: 5100, change: 5099, refused: 1 });
    expect(added.refused[0].problems[0].message).toContain('has changed it since it was added');
    const archived = async () =>
      Number(
        (await owner()('data.quay_stays').where({ note: 'of many' }).whereNotNull('archived_at').count('* as n'))[0]?.n,
      );
    expect(await archived()).toBe(5099);
    expect((await writePart('changed')).counts).toMatchObject({ found: 2, change: 1, refused: 1 });
    expect([(await rowOf(one)).note, (await rowOf(other)).note]).toEqual(['before the many', 'since']);
    // Putting back can be put back.
    const again = await builder.call('POST', `${added.at}/put-back`, {});
    await office.services.tasks.idle();
    await builder.call('POST', `/api/tables/quay_stays/changes/${again.body.id}/run`, { records: 'all' });
    await office.services.tasks.idle();
    expect(await archived()).toBe(0);
  });
});
