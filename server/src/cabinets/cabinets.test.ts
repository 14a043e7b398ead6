import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
});
afterAll(() => office.close());

let keys = 0;
/** Sends `values` through a form; the answer is refused or has the record. */
const fill = (form: string, values: Record<string, unknown>) =>
  clerk.call('POST', `/api/forms/${form}/entries`, { values }, { 'idempotency-key': `cabinets-${++keys}` });
const newHarbour = (name: string) =>
  builder.call(
    'POST',
    '/api/tables/quay_harbours/entries',
    { values: { name } },
    { 'idempotency-key': `cabinets-${++keys}` },
  );
const formsOf = async (client: Client): Promise<{ id: string; archived?: boolean }[]> =>
  (await client.call('GET', '/api/cabinets/quay')).body.forms;

describe('a form', () => {
  test('is duplicated with its draft, and the copy is not published', async () => {
    const { status, body } = await builder.call('POST', '/api/forms/quay_check_in/duplicate', {
      label: 'Night check-in',
    });
    expect(status).toBe(200);
    expect(body).toMatchObject({ label: 'Night check-in', liveVersion: null });
    const [from, copy] = await Promise.all(
      ['quay_check_in', body.id].map((form) => builder.call('GET', `/api/forms/${form}/draft`)),
    );
    expect(copy?.body.definition).toEqual({ ...from?.body.definition, label: 'Night check-in' });
  });

  test('is archived: nobody fills it, nobody is offered it, and it comes back as it was', async () => {
    expect((await builder.call('PATCH', '/api/forms/quay_check_in', { archived: true })).status).toBe(200);
    const refused = await fill('quay_check_in', { harbour: 1 });
    expect([refused.status, refused.body.detail]).toEqual([409, 'Check-in is archived. A builder can restore it.']);
    expect((await clerk.call('GET', '/api/forms/quay_check_in')).status).toBe(409);

    expect((await builder.call('PATCH', '/api/forms/quay_check_in', { archived: false })).status).toBe(200);
    expect((await formsOf(clerk)).find((one) => one.id === 'quay_check_in')).toBeDefined();
    expect((await clerk.call('PATCH', '/api/forms/quay_check_in', { archived: true })).status).toBe(403);
  });
});

test('the public page of a form or cabinet that is archived is not there, for readers and for those who skip it', async () => {
  const page = async () => [
    (await office.anonymous.call('GET', '/api/public/arrival')).status,
    (await send()).status,
    (await office.anonymous.call('POST', '/api/public/arrival/choices/harbour', { values: {} })).status,
  ];
  const send = () =>
    office.anonymous.call(
      'POST',
      '/api/public/arrival/entries',
      { values: { harbour: 1 } },
      { 'idempotency-key': `cabinets-${++keys}` },
    );
  const open = await page();
  expect(open[0]).toBe(200);
  for (const part of ['/api/forms/quay_arrival', '/api/cabinets/quay']) {
    await builder.call('PATCH', part, { archived: true });
    expect(await page(), part).toEqual([404, 404, 404]);
    await builder.call('PATCH', part, { archived: false });
    expect(await page(), part).toEqual(open);
  }
});

test('what a public page tells grows by no change of a table that its builder has not confirmed', async () => {
  const retitled = await builder.call('PATCH', '/api/tables/quay_berths', { title: 'secret' });
  expect(retitled.status).toBe(409);
  expect(retitled.body.detail).toContain('A public page would tell more than its builder has confirmed. Arrival:');
  const { body } = await office.anonymous.call('GET', '/api/public/arrival');
  expect(JSON.stringify(body.tables)).not.toContain('Secret');
});

test('nothing is written into an archived cabinet, and the ledger says that it was archived', async () => {
  await builder.call('PATCH', '/api/cabinets/quay', { archived: true });
  expect((await fill('quay_check_in', { harbour: 1 })).body.detail).toBe('Quay is archived. A builder can restore it.');
  await builder.call('PATCH', '/api/cabinets/quay', { archived: false });
  const { lines } = (await builder.call('GET', '/api/cabinets/quay/ledger?limit=5')).body;
  expect(lines.slice(0, 2).map((one: { what: string; kind: string }) => [one.what, one.kind])).toEqual([
    ['Cabinet', 'restore'],
    ['Cabinet', 'archive'],
  ]);
});

test('a cabinet is renamed and described, by builders', async () => {
  const { status } = await builder.call('PATCH', '/api/cabinets/quay', { label: 'Quay', description: 'Two harbours.' });
  expect(status).toBe(200);
  expect((await clerk.call('GET', '/api/cabinets/quay')).body).toMatchObject({ description: 'Two harbours.' });
  expect((await clerk.call('PATCH', '/api/cabinets/quay', { label: 'Mine' })).status).toBe(403);
});

test('records are found by words of their titles, and of their other lines, in every table of the cabinet, those in use only', async () => {
  const harbour = await newHarbour('Skerry Haven');
  expect(harbour.status).toBeLessThan(300);
  const find = async (words: string) =>
    (await clerk.call('GET', `/api/cabinets/quay/find?words=${encodeURIComponent(words)}`)).body.found;
  expect(await find('skerry hav')).toEqual([
    { table: 'quay_harbours', record: harbour.body.record.id, title: 'Skerry Haven', found: null },
  ]);
  expect(await find('no such thing')).toEqual([]);
  // Where a title names a linked record, the words of that record's title find it.
  const { body: walls } = await builder.call('POST', '/api/cabinets/quay/tables', { label: 'Walls' });
  for (const field of [
    { label: 'Number', type: 'wholeNumber' },
    { label: 'Harbour', type: 'link', settings: { table: 'quay_harbours' } },
  ])
    await builder.call('POST', `/api/tables/${walls.id}/fields`, { field });
  await builder.call('PATCH', `/api/tables/${walls.id}`, { title: '{number} of {harbour}' });
  const { body: wall } = await builder.call(
    'POST',
    `/api/tables/${walls.id}/entries`,
    { values: { number: 7, harbour: harbour.body.record.id } },
    { 'idempotency-key': 'cabinets-wall' },
  );
  const seventh = { table: walls.id, record: wall.record.id, title: '7 of Skerry Haven', found: null };
  expect(await find('haven 7')).toEqual([seventh]);
  expect(await find('haven')).toContainEqual(seventh);
  expect(await find('haven 8')).toEqual([]);
  // What is not in the title is found behind what is, and says where.
  const note = await builder.call(
    'POST',
    '/api/tables/quay_stays/entries',
    { values: { harbour: harbour.body.record.id, note: 'Asks for the crane' } },
    { 'idempotency-key': 'cabinets-crane' },
  );
  expect(await find('crane asks')).toEqual([
    {
      table: 'quay_stays',
      record: note.body.record.id,
      title: note.body.record.title,
      found: 'Note Asks for the crane',
    },
  ]);
  const stranger = await office.signIn('stranger');
  expect((await stranger.call('GET', '/api/cabinets/quay/find?words=skerry')).status).toBe(404);
  await builder.call('POST', `/api/tables/quay_harbours/records/${harbour.body.record.id}/archive`, {
    version: harbour.body.record.version,
  });
  // The wall is in use still, and its title names the archived harbour.
  expect(await find('skerry hav')).toEqual([seventh]);
});

test('the overview counts records and the forms that were filled, findings for builders only', async () => {
  const harbour = await newHarbour('Tern Cove');
  const before = (await clerk.call('GET', '/api/cabinets/quay/overview')).body;
  expect((await fill('quay_check_in', { harbour: harbour.body.record.id })).status).toBeLessThan(300);
  const after = (await clerk.call('GET', '/api/cabinets/quay/overview')).body;
  const stays = (view: typeof after) => view.tables.find((one: { id: string }) => one.id === 'quay_stays');
  const checkIn = (view: typeof after) => view.forms.find((one: { id: string }) => one.id === 'quay_check_in');
  expect(stays(after).records).toBe(stays(before).records + 1);
  expect(checkIn(after)).toMatchObject({ filled: checkIn(before).filled + 1, mine: checkIn(before).mine + 1 });
  const others = (await builder.call('GET', '/api/cabinets/quay/overview')).body;
  expect(checkIn(others)).toMatchObject({ filled: checkIn(after).filled, mine: 0 });
});

test('a table is archived only while nothing needs it; then nothing is written into it until it is back', async () => {
  const archive = (table: string, archived = true) => builder.call('PATCH', `/api/tables/${table}`, { archived });
  const needed = await archive('quay_pontoons');
  expect(needed.status).toBe(409);
  expect(needed.body.detail).toContain('Pontoon of Berths');
  expect((await archive('quay_stays')).body.detail).toContain('the form Check-in');

  const made = await builder.call('POST', '/api/cabinets/quay/tables', { label: 'Buoys' });
  const table = made.body.id;
  await builder.call('POST', `/api/tables/${table}/fields`, { field: { label: 'Name', type: 'text' } });
  const add = () =>
    clerk.call(
      'POST',
      `/api/tables/${table}/entries`,
      { values: { name: 'North' } },
      { 'idempotency-key': `cabinets-${++keys}` },
    );
  expect((await add()).status).toBe(200);
  expect((await clerk.call('PATCH', `/api/tables/${table}`, { archived: true })).status).toBe(403);
  expect((await archive(table)).body).toMatchObject({ archived: true });
  expect((await add()).status).toBe(409);
  expect((await clerk.call('GET', `/api/tables/${table}/records`)).body.records).toHaveLength(1);
  expect((await clerk.call('GET', '/api/cabinets/quay/find?words=north')).body.found).toEqual([]);
  await archive(table, false);
  expect((await add()).status).toBe(200);
});

describe('an option list in use', () => {
  test('gives a table a field for each level, each within the one before', async () => {
    const list = await builder.call('POST', '/api/cabinets/quay/lists', {
      label: 'Damages',
      levels: ['Where', 'Piece'],
    });
    const used = await builder.call('POST', `/api/tables/${list.body.id}/use`, { table: 'quay_stays' });
    expect(used.status).toBe(200);
    const added = used.body.fields.slice(-2);
    expect(added.map((one: { label: string }) => one.label)).toEqual(['Where', 'Piece']);
    for (const one of added) expect(JSON.stringify(one.settings)).toContain(list.body.id);
    const made = await builder.call('POST', `/api/tables/${list.body.id}/use`, { label: 'Damage book' });
    expect(made.body).toMatchObject({ label: 'Damage book' });
    expect((await clerk.call('POST', `/api/tables/${list.body.id}/use`, { label: 'Mine' })).status).toBe(403);
  });
});
