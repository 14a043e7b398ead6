import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { verifyLedger } from '../history/index.ts';
import { tendIndexes } from './index.ts';

let office: TestOffice;
let builder: Client;
let tables = 0;
/** A table of its own for each test, with three records. */
let table = '';
const owner = () => office.database.databases.owner;
const clerk = { name: 'quayclerk', through: { kind: 'table', label: 'Moorings' } } as const;

beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
});
afterAll(async () => {
  // Whatever was done to the structure, the ledger holds.
  expect((await verifyLedger(office.database.databases.owner)).misfits).toEqual([]);
  await office.close();
});
beforeEach(async () => {
  const made = await builder.call('POST', '/api/cabinets/quay/tables', { label: `Moorings ${++tables}` });
  table = made.body.id;
  await add({ label: 'Code', type: 'text' });
  await add({ label: 'Depth', type: 'text' });
  await write(`INSERT INTO data.${table} (code, depth) VALUES ('A', '2.5'), ('B', '3 m'), ('C', NULL)`);
});

const add = (field: object, backfill?: object) =>
  builder.call('POST', `/api/tables/${table}/fields`, { field, ...(backfill ? { backfill } : {}) });
const patch = (field: string, body: object) => builder.call('PATCH', `/api/tables/${table}/fields/${field}`, body);
const post = (path: string, body: object = {}) => builder.call('POST', `/api/tables/${table}/${path}`, body);
const write = (sql: string) => asActor(owner(), clerk, (transaction) => transaction.raw(sql));
const values = async (column: string) =>
  (await owner().raw(`SELECT ${column} AS value FROM data.${table} ORDER BY id`)).rows.map(
    (row: { value: unknown }) => row.value,
  );
const typeOf = async (column: string) =>
  (
    await owner().raw(`SELECT data_type FROM information_schema.columns WHERE table_name = ? AND column_name = ?`, [
      table,
      column,
    ])
  ).rows[0]?.data_type;
const save = (body: object) =>
  builder.call('POST', `/api/tables/${table}/entries`, body, {
    'idempotency-key': `key-${Math.random().toString(36).slice(2)}-entry`,
  });

describe('a field added to records that are there', () => {
  test('holds nothing, a value, or a calculation, each with its line', async () => {
    await add({ label: 'Checked', type: 'yesNo' }, { kind: 'value', value: false });
    expect(await values('checked')).toEqual([false, false, false]);
    await patch('checked', { required: true });
    await add(
      { label: 'Name', type: 'text', required: true },
      { kind: 'calculation', expression: '"Mooring " + code' },
    );
    expect(await values('name')).toEqual(['Mooring A', 'Mooring B', 'Mooring C']);
    await add({ label: 'Rest', type: 'date' });
    expect(await values('rest')).toEqual([null, null, null]);
    const { body } = await builder.call('GET', `/api/tables/${table}/records/1/history`);
    expect(body.lines.slice(0, 2).map((line: { changes: object[] }) => line.changes[0])).toMatchObject([
      { label: 'Name', after: 'Mooring A' },
      { label: 'Checked', after: 'no' },
    ]);
  });

  test.each([
    [
      'a value that breaks a limit',
      { type: 'wholeNumber', settings: { least: 1 } },
      { kind: 'value', value: 0 },
      'At least 1',
    ],
    [
      'one value for a unique field',
      { type: 'text', unique: true },
      { kind: 'value', value: 'x' },
      'cannot all hold one value',
    ],
    [
      'a calculation that cannot be read',
      { type: 'text' },
      { kind: 'calculation', expression: 'code +' },
      'Something is missing',
    ],
    [
      'a calculation that leaves a required field blank',
      { type: 'text', required: true },
      { kind: 'calculation', expression: 'depth + "!"' },
      'would be left blank',
    ],
    [
      'a calculation that is not unique',
      { type: 'text', unique: true },
      { kind: 'calculation', expression: '"same" + "same"' },
      'which is unique',
    ],
    [
      'a required field with nothing',
      { type: 'text', required: true },
      { kind: 'nothing' },
      'say what they shall hold',
    ],
  ])('is not made with %s', async (_what, field, backfill, words) => {
    const before = await builder.call('GET', '/api/cabinets/quay');
    const refused = await add({ label: 'Wrong', ...field }, backfill);
    expect(refused.status).toBe(422);
    expect(refused.body.detail).toContain(words);
    expect(await typeOf('wrong')).toBeUndefined();
    expect((await builder.call('GET', '/api/cabinets/quay')).body.tables.length).toBe(before.body.tables.length);
    expect((await save({ values: { code: 'D' } })).status).toBe(200);
  });
});

describe('another type', () => {
  test('is shown beforehand, refused while values do not convert, and done with those blanked by name', async () => {
    const preview = await post('fields/depth/conversion', { type: 'decimal', settings: { places: 1 } });
    expect(preview.body).toMatchObject({
      converts: 1,
      fails: 1,
      blank: 1,
      samples: [{ from: '2.5', to: '2.5' }],
      failing: [{ id: 2, title: 'B', value: '3 m' }],
    });
    const refused = await post('fields/depth/type', { type: 'decimal', settings: { places: 1 } });
    expect(refused).toMatchObject({ status: 422, body: { detail: expect.stringContaining('do not convert') } });
    expect(await typeOf('depth')).toBe('text');
    const done = await post('fields/depth/type', { type: 'decimal', settings: { places: 1 }, unconverted: 'blank' });
    expect(done.status).toBe(200);
    expect([await typeOf('depth'), await values('depth')]).toEqual(['numeric', [2.5, null, null]]);
    const history = await builder.call('GET', `/api/tables/${table}/records/2/history`);
    expect(history.body.lines[0]).toMatchObject({
      account: 'harbourmaster',
      changes: [{ label: 'Depth', before: '3 m', after: '' }],
    });
    // What reads differently afterwards, text that is a number now, is a change with its line.
    expect((await builder.call('GET', `/api/tables/${table}/records/1/history`)).body.lines[0]).toMatchObject({
      account: 'harbourmaster',
      changes: [{ label: 'Depth', before: '2.5', after: '2.5' }],
    });
    expect((await save({ values: { code: 'D', depth: 4.5 } })).status).toBe(200);
  });

  test('keeps what holds for the field: unique, required', async () => {
    await patch('code', { unique: true });
    await patch('code', { required: true });
    expect(
      (await post('fields/code/type', { type: 'choice', settings: { choices: ['A', 'B', 'C', 'D'] } })).status,
    ).toBe(200);
    expect((await save({ values: { code: 'A' } })).body.errors[0]).toMatchObject({ path: 'code', rule: 'unique' });
    await expect(write(`INSERT INTO data.${table} (depth) VALUES ('1')`)).rejects.toThrow('not-null');
  });

  test('two windows at once: one does it, the other is told who is at it', async () => {
    await write(`INSERT INTO data.${table} (code, depth) SELECT 'N' || n, n::text FROM generate_series(1, 30000) n`);
    await write(`UPDATE data.${table} SET depth = NULL WHERE code = 'B'`);
    const type = { type: 'decimal', settings: { places: 1 } };
    const both = await Promise.all([post('fields/depth/type', type), post('fields/depth/type', type)]);
    expect(both.map((one) => one.status).sort()).toEqual([200, 409]);
    expect(both.find((one) => one.status === 409)?.body.detail).toContain('harbourmaster is at work on this just now');
    // Somebody writes meanwhile; nothing of it is lost.
    await write(`UPDATE data.${table} SET depth = '77' WHERE code = 'N5'`);
    await office.services.tasks.idle();
    expect((await owner().raw(`SELECT depth FROM data.${table} WHERE code = 'N5'`)).rows[0].depth).toBe(77);
    expect(await typeOf('depth')).toBe('numeric');
  });

  test('takes over what changed while it went on: by a save that had begun before it, and a value that was blanked', async () => {
    await write(`UPDATE data.${table} SET depth = NULL WHERE code = 'B'`);
    await write(`INSERT INTO data.${table} (code, depth) SELECT 'N' || n, n::text FROM generate_series(1, 40000) n`);
    const early = await owner().transaction();
    await early.raw(`SELECT now(), set_config('fiche.actor', 'quayclerk', true)`);
    const plan = { field: 'depth', type: 'decimal', settings: { places: 1 }, unconverted: 'refuse' };
    const { tasks } = office.services;
    const begun = await tasks.begin(
      { cabinet: 'quay', table, kind: 'changeFieldType', label: 'Depth', plan, account: 'harbourmaster' },
      0,
    );
    await expect
      .poll(async () => (await tasks.view(begun.id)).done, { interval: 5, timeout: 30_000 })
      .toBeGreaterThan(0);
    await early.raw(`UPDATE data.${table} SET depth = '99' WHERE code = 'A'`);
    await early.commit();
    await write(`UPDATE data.${table} SET depth = NULL WHERE code = 'N1'`);
    await tasks.idle();
    expect(await tasks.view(begun.id)).toMatchObject({ state: 'done' });
    const { rows } = await owner().raw(`SELECT code, depth FROM data.${table} WHERE code IN ('A', 'N1') ORDER BY code`);
    expect(rows).toEqual([
      { code: 'A', depth: 99 },
      { code: 'N1', depth: null },
    ]);
  });

  test('is cancelled without a trace', async () => {
    await write(`INSERT INTO data.${table} (code, depth) SELECT 'N' || n, n::text FROM generate_series(1, 60000) n`);
    await write(`UPDATE data.${table} SET depth = NULL WHERE code = 'B'`);
    const { services } = office;
    const begun = await services.tasks.begin(
      {
        cabinet: 'quay',
        table,
        kind: 'changeFieldType',
        label: 'Depth becomes a decimal',
        plan: { field: 'depth', type: 'decimal', settings: { places: 1 }, unconverted: 'refuse' },
        account: 'harbourmaster',
      },
      0,
    );
    await services.tasks.cancel(begun.id, 'quay');
    await services.tasks.idle();
    expect(await services.tasks.view(begun.id)).toMatchObject({ state: 'cancelled' });
    expect([await typeOf('depth'), await typeOf('depth_next')]).toEqual(['text', undefined]);
    expect((await save({ values: { code: 'Z', depth: 'as before' } })).status).toBe(200);
  });
});

describe('what holds for every record', () => {
  test('is tried first: how many break it, and which', async () => {
    await write(`INSERT INTO data.${table} (code, depth) VALUES ('A', '9')`);
    expect((await post('trial', { kind: 'unique', field: 'code' })).body).toMatchObject({
      breaks: 2,
      examples: [{ id: 1, title: 'A' }, { id: 4 }],
    });
    expect((await post('trial', { kind: 'required', field: 'depth' })).body).toMatchObject({
      breaks: 1,
      examples: [{ id: 3 }],
    });
    expect((await post('trial', { kind: 'limits', field: 'depth', settings: { mostLength: 1 } })).body).toMatchObject({
      breaks: 2,
    });
    expect(await patch('code', { unique: true })).toMatchObject({
      status: 422,
      body: { detail: expect.stringContaining('2 records break this') },
    });
    expect(await patch('depth', { required: true })).toMatchObject({ status: 422 });
  });

  test('several fields unique together, and no overlap, on every path', async () => {
    await add({ label: 'From', type: 'dateTime' });
    await add({ label: 'To', type: 'dateTime' });
    const message = 'This mooring is taken then. Choose another.';
    const constraint = { kind: 'noOverlap', id: 'taken', same: ['code'], from: 'from', to: 'to', message };
    await write(
      `INSERT INTO data.${table} (code, "from", "to") VALUES ('A', '2026-08-01 12:00', '2026-08-05 12:00'), ('A', '2026-08-04 12:00', NULL)`,
    );
    expect((await post('trial', { kind: 'constraint', constraint })).body).toMatchObject({
      breaks: 1,
      examples: [{ id: 5 }],
    });
    expect((await post('constraints', { constraint })).status).toBe(422);
    await write(`UPDATE data.${table} SET "from" = '2026-08-05 12:00' WHERE id = 5`);
    expect((await post('constraints', { constraint })).status).toBe(200);
    const clash = await save({ values: { code: 'A', from: '2026-08-02T10:00', to: '2026-08-03T10:00' } });
    expect(clash.body.errors).toEqual([{ path: 'to', rule: 'taken', message }]);
    await expect(write(`INSERT INTO data.${table} (code, "from") VALUES ('A', '2027-01-01 10:00')`)).rejects.toThrow(
      'exclusion',
    );
    expect((await save({ values: { code: 'A', from: '2026-07-02T10:00', to: '2026-08-01T12:00' } })).status).toBe(200);
    // An archived one makes room, and cannot come back into a place that is taken.
    await builder.call('POST', `/api/tables/${table}/records/4/archive`, { version: 1 });
    expect((await save({ values: { code: 'A', from: '2026-08-02T10:00', to: '2026-08-03T10:00' } })).status).toBe(200);
    expect(await builder.call('POST', `/api/tables/${table}/records/4/restore`, { version: 2 })).toMatchObject({
      status: 422,
      body: { detail: message },
    });
    expect(await post('fields/from/type', { type: 'text' })).toMatchObject({ status: 422 });
    expect(await builder.call('DELETE', `/api/tables/${table}/constraints/taken`)).toMatchObject({
      status: 200,
      body: { constraints: [] },
    });
    expect((await builder.call('POST', `/api/tables/${table}/records/4/restore`, { version: 2 })).status).toBe(200);
  });

  test('a change over what another builder has seen is refused', async () => {
    const { body } = await patch('code', { help: 'As painted on the post.' });
    expect((await patch('code', { help: 'Later', revision: body.table.revision - 1 })).status).toBe(409);
    expect((await patch('code', { help: 'Later', revision: body.table.revision })).status).toBe(200);
  });
});

test('a field out of use keeps its column and history, and comes back', async () => {
  expect((await post('fields/depth/retire')).body.retired).toMatchObject([{ id: 'depth' }]);
  expect((await save({ values: { depth: '9' } })).status).toBe(422);
  await add({ label: 'Depth', type: 'decimal' });
  expect((await post('fields/depth/return')).body.errors[0].message).toContain('“Depth” is there already');
  await patch('depth_2', { label: 'Depth now' });
  expect((await post('fields/depth/return')).status).toBe(200);
  expect(await values('depth')).toEqual(['2.5', '3 m', null]);
  // What is built on a field keeps it in use.
  expect(await post('fields/code/retire')).toMatchObject({
    status: 409,
    body: { detail: expect.stringContaining('title of the table') },
  });
});

test('a column that a published form of another table reads stays in use, and stays of its kind', async () => {
  // Check-in offers berths by their pontoon, and fills the length from the vessel.
  for (const [one, field] of [
    ['quay_berths', 'pontoon'],
    ['quay_vessels', 'length'],
  ])
    expect(await builder.call('POST', `/api/tables/${one}/fields/${field}/retire`, {})).toMatchObject({
      status: 409,
      body: { detail: expect.stringContaining('A published form would not work any more. Check-in: ') },
    });
  expect(await builder.call('POST', '/api/tables/quay_vessels/fields/length/type', { type: 'text' })).toMatchObject({
    status: 409,
    body: { detail: expect.stringContaining('Check-in') },
  });
});

test('a record that is added while a new field is filled gets its value, too', async () => {
  await write(`INSERT INTO data.${table} (code, depth) SELECT 'N' || n, n::text FROM generate_series(1, 30000) n`);
  const { tasks } = office.services;
  const field = { label: 'Called', type: 'text', settings: {}, required: true, unique: false, help: '', initial: null };
  const plan = { field, backfill: { kind: 'calculation', expression: '"Mooring " + code' } };
  const begun = await tasks.begin(
    { cabinet: 'quay', table, kind: 'backfillField', label: 'Called', plan, account: 'harbourmaster' },
    0,
  );
  await expect.poll(async () => (await tasks.view(begun.id)).done, { interval: 5, timeout: 30_000 }).toBeGreaterThan(0);
  await write(`INSERT INTO data.${table} (code) VALUES ('late')`);
  await tasks.idle();
  expect(await tasks.view(begun.id)).toMatchObject({ state: 'done' });
  expect((await owner().raw(`SELECT called FROM data.${table} WHERE code = 'late'`)).rows[0].called).toBe(
    'Mooring late',
  );
});

test('fields are copied with their definitions; a title is put together from several', async () => {
  const { body } = await post('fields/copy', { from: 'quay_berths', fields: ['pontoon', 'longest'] });
  expect(body.fields.map((field: { label: string; type: string }) => `${field.label} ${field.type}`)).toEqual([
    'Code text',
    'Depth text',
    'Pontoon link',
    'Longest decimal',
  ]);
  const named = await builder.call('PATCH', `/api/tables/${table}`, { title: '{code} at {pontoon} ({longest})' });
  expect(named.status).toBe(200);
  await write(`UPDATE data.${table} SET pontoon = 1, longest = 8 WHERE id = 1`);
  const { body: page } = await builder.call('GET', `/api/tables/${table}/records`);
  expect(page.records.map((one: { title: string }) => one.title)).toEqual(['A at A (8.0)', 'B', 'C']);
  expect((await builder.call('PATCH', `/api/tables/${table}`, { title: '{nothing}' })).status).toBe(422);
});

describe('links', () => {
  test('of several records stand on foreign keys, read by title, and are seen from the other end', async () => {
    await add({ label: 'Berths', type: 'links', settings: { table: 'quay_berths' } });
    const saved = await save({ values: { code: 'E', berths: [2, 1] } });
    expect(saved.body.record).toMatchObject({
      values: { berths: [2, 1] },
      linked: { berths: { title: 'A-2, A-1', titles: { 1: 'A-1', 2: 'A-2' } } },
    });
    expect((await save({ values: { code: 'F', berths: [999] } })).body.errors[0]).toMatchObject({
      path: 'berths',
      rule: 'choice',
    });
    await expect(write(`UPDATE data.${table} SET berths = '{999}' WHERE code = 'E'`)).rejects.toThrow('foreign key');
    const pairs = (
      await owner().raw(
        `SELECT settings->>'pairs' AS name FROM fiche.field WHERE table_id = '${table}' AND id = 'berths'`,
      )
    ).rows[0].name;
    expect((await owner().raw(`SELECT target FROM data.${pairs} ORDER BY target`)).rows).toEqual([
      { target: 1 },
      { target: 2 },
    ]);
    const { body } = await builder.call('GET', '/api/tables/quay_berths/records/2/linking');
    expect(body.linking.find((one: { table: string }) => one.table === table)).toMatchObject({
      count: 1,
      records: [{ title: 'E' }],
    });
    const listed = await builder.call('GET', `/api/tables/${table}/records?linking=berths:2`);
    expect(listed.body).toMatchObject({ total: 1, records: [{ title: 'E' }] });
    const { record } = saved.body;
    const changed = await save({ record: record.id, version: 1, values: { berths: [1] } });
    expect(changed.body.record.values.berths).toEqual([1]);
    const { body: history } = await builder.call('GET', `/api/tables/${table}/records/${record.id}/history`);
    expect(history.lines[0].changes).toMatchObject([
      { field: 'berths', label: 'Berths', before: 'A-2, A-1', after: 'A-1' },
    ]);
  });

  test('to the own table refuse a circle, over any number of steps, by SQL as well', async () => {
    await add({ label: 'Lead', type: 'link', settings: { table } });
    const lead = (record: number, version: number, to: number) => save({ record, version, values: { lead: to } });
    expect((await lead(2, 1, 1)).status).toBe(200);
    expect((await lead(3, 1, 2)).status).toBe(200);
    const refused = await lead(1, 1, 3);
    expect(refused.body.errors[0]).toMatchObject({
      path: 'lead',
      rule: 'circle',
      message: expect.stringContaining('leads back to this record'),
    });
    expect((await lead(1, 1, 1)).status).toBe(422);
    await expect(write(`UPDATE data.${table} SET lead = 3 WHERE id = 1`)).rejects.toThrow('circle');
    const { body } = await builder.call('GET', `/api/tables/${table}/records/1/linking`);
    expect(body.linking).toMatchObject([{ field: 'lead', count: 1, records: [{ title: 'B' }] }]);
  });
});

test('a record is erased only once archived, by an administrator, with a reason, and while nothing links to it', async () => {
  const erase = (client: Client, body: object) => client.call('DELETE', `/api/tables/${table}/records/1`, body);
  const clerkClient = await office.signIn('quayclerk');
  expect((await erase(clerkClient, { version: 1, reason: 'asked for' })).status).toBe(403);
  expect((await erase(builder, { version: 1, reason: 'asked for' })).status).toBe(409);
  await builder.call('POST', `/api/tables/${table}/records/1/archive`, { version: 1 });
  expect((await erase(builder, { version: 2, reason: '' })).status).toBe(422);
  await add({ label: 'Lead', type: 'link', settings: { table } });
  await write(`UPDATE data.${table} SET lead = 1 WHERE id = 2`);
  expect(await erase(builder, { version: 2, reason: 'asked for' })).toMatchObject({
    status: 409,
    body: { detail: expect.stringContaining('(Lead)') },
  });
  await write(`UPDATE data.${table} SET lead = NULL WHERE id = 2`);
  expect((await erase(builder, { version: 2, reason: 'asked for by its owner' })).status).toBe(200);
  const { body } = await builder.call('GET', `/api/cabinets/quay/ledger?table=${table}&kind=erase`);
  expect(body.lines).toMatchObject([
    {
      kind: 'erase',
      account: 'harbourmaster',
      reasons: ['Reason: asked for by its owner'],
      changes: [{ label: 'Code', before: '' }, { label: 'Depth' }],
    },
  ]);
});

describe('an option list', () => {
  test('is changed as a grid: all of it or nothing, with what is empty or twice at its row', async () => {
    const { body: list } = await builder.call('POST', '/api/cabinets/quay/lists', {
      label: 'Faults',
      levels: ['System', 'Part', 'Defect'],
    });
    expect(list).toMatchObject({ kind: 'list', fields: [{ label: 'System' }, { label: 'Part' }, { label: 'Defect' }] });
    const saveList = (body: object) => builder.call('POST', `/api/tables/${list.id}/combinations`, body);
    const rows = [
      ['Quay', 'Lighting', 'Lamp out'],
      ['Vessel', 'Lighting', 'Flickers'],
    ];
    expect((await saveList({ add: rows })).body).toEqual({ added: 2, changed: 0, archived: 0 });
    expect(await saveList({ add: [['Quay', '', 'x']] })).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'add.0.1', message: 'Quay › x has no Part. Fill every level in.' }] },
    });
    expect(
      await saveList({
        add: [
          ['Quay', 'Water', 'Leaks'],
          ['Quay', 'Lighting', 'Lamp out'],
        ],
      }),
    ).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'add.1', message: expect.stringContaining('occurs twice') }] },
    });
    expect(
      (
        await saveList({
          change: [{ id: 1, version: 1, levels: ['Quay', 'Lighting', 'Lamp gone'] }],
          archive: [{ id: 2, version: 1 }],
        })
      ).body,
    ).toEqual({ added: 0, changed: 1, archived: 1 });
    expect((await saveList({ archive: [{ id: 1, version: 1 }] })).status).toBe(409);
  });

  test('combinations exchange their places, move along, and stay unique when a level comes and goes', async () => {
    const { body: list } = await builder.call('POST', '/api/cabinets/quay/lists', {
      label: 'Dredging',
      levels: ['Water', 'Cause'],
    });
    const saveList = (body: object) => builder.call('POST', `/api/tables/${list.id}/combinations`, body);
    const words = async () =>
      (
        await owner().raw(
          `SELECT water || ' ' || cause AS words FROM data.${list.id} WHERE archived_at IS NULL ORDER BY id`,
        )
      ).rows.map((row: { words: string }) => row.words);
    const add = ['A', 'B', 'C'].map((cause) => ['Channel', cause]);
    await saveList({ add });
    const versions = async () => (await owner().raw(`SELECT version FROM data.${list.id} ORDER BY id`)).rows;
    const change = async (causes: string[]) => {
      const now = await versions();
      return saveList({
        change: causes.map((cause, at) => ({ id: at + 1, version: now[at].version, levels: ['Channel', cause] })),
      });
    };
    expect((await change(['B', 'A', 'D'])).body).toMatchObject({ changed: 3 });
    expect(await words()).toEqual(['Channel B', 'Channel A', 'Channel D']);
    expect((await change(['A', 'D', 'E'])).body).toMatchObject({ changed: 3 });
    expect(await words()).toEqual(['Channel A', 'Channel D', 'Channel E']);

    const twice = () => write(`INSERT INTO data.${list.id} (water, cause) VALUES ('Channel', 'A')`);
    await expect(twice()).rejects.toThrow('duplicate key');
    // A level that is filled for what is there makes more combinations possible.
    const level = { label: 'Depth', type: 'text', required: false };
    const begun = await builder.call('POST', `/api/tables/${list.id}/fields`, {
      field: level,
      backfill: { kind: 'value', value: 'deep' },
    });
    await office.services.tasks.idle();
    expect(begun.status, JSON.stringify(begun.body)).toBe(200);
    await write(`INSERT INTO data.${list.id} (water, cause, depth) VALUES ('Channel', 'A', 'flat')`);
    await expect(
      write(`INSERT INTO data.${list.id} (water, cause, depth) VALUES ('Channel', 'A', 'flat')`),
    ).rejects.toThrow('duplicate key');
  });
});

test('indexes come with what needs them, and go with it', async () => {
  // Only this table's: how large the others seem to be is for the database's own housekeeping to say.
  const tended = async (): Promise<number> => {
    await tendIndexes(owner());
    const { rows } = await owner().raw(
      `SELECT count(*) AS n FROM pg_indexes WHERE schemaname = 'data' AND tablename = ? AND indexname LIKE 'made\\_%'`,
      [table],
    );
    return rows[0].n;
  };
  const before = await tended();
  await write(`INSERT INTO data.${table} (code, depth) SELECT 'N' || n, n::text FROM generate_series(1, 30000) n`);
  await owner().raw(`ANALYZE data.${table}`);
  // Of what typing finds, and of the titles of records that are linked to.
  expect(await tended()).toBe(before + 2);
  const { rows } = await owner().raw(
    `EXPLAIN (FORMAT JSON) SELECT id FROM data.${table} c WHERE (coalesce(c."code", '') || ' ' || coalesce(c."depth", '')) ILIKE '%N2999%'`,
  );
  expect(JSON.stringify(rows)).toContain('Bitmap Index Scan');
  // Of what typing finds, and of the titles of records that are linked to.
  expect(await tended()).toBe(before + 2);
  // A shared view compares one column and is sorted by another; one's own view gets no index.
  const column = { kind: 'column', path: 'depth' };
  const filter = {
    kind: 'group',
    match: 'all',
    of: [{ kind: 'compare', left: column, operator: 'is', right: { kind: 'constant', value: '7' } }],
  };
  const definition = {
    label: 'Deep',
    columns: [{ path: 'code' }],
    filter,
    sort: [{ path: 'changed_at', direction: 'down' }],
  };
  await builder.call('POST', `/api/tables/${table}/views`, { definition });
  expect(await tended()).toBe(before + 2);
  await builder.call('POST', `/api/tables/${table}/views`, { definition: { ...definition, shared: true } });
  expect(await tended()).toBe(before + 4);
  await write(`DELETE FROM fiche.view WHERE table_id = '${table}'`);
  await write(`DELETE FROM data.${table}`);
  await owner().raw(`VACUUM ANALYZE data.${table}`);
  expect(await tended()).toBe(before);
});
