import { all, is } from '@fiche/core/conditions';
import { COMMON_SHEETS } from '@fiche/core/labels';
import { afterAll, beforeAll, expect, test } from 'vitest';
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

const uses = async (of: Record<string, string>, who = builder) =>
  who.call('GET', `/api/cabinets/quay/uses?${new URLSearchParams(of)}`);
const listed = async (of: Record<string, string>): Promise<string[]> =>
  (await uses(of)).body.uses.map(
    (one: { place: { kind: string; label: string }; words: string[] }) =>
      `${one.place.kind} ${one.place.label}: ${one.words.join('; ')}`,
  );

test('a field tells its forms, rules and views, also those that reach it through a link', async () => {
  const view = await clerk.call('POST', '/api/tables/quay_stays/views', {
    definition: {
      label: 'My long ones',
      columns: [{ path: 'number' }],
      filter: all(is({ kind: 'column', path: 'berth.longest' }, { kind: 'constant', value: 12 })),
    },
  });
  expect(view.status).toBe(200);
  const longest = await listed({ table: 'quay_berths', field: 'longest' });
  expect(longest).toContain('view a view of quayclerk: its filter');
  const departure = await listed({ table: 'quay_stays', field: 'departure' });
  expect(departure).toContain('table Stays: the rule “Departure must be after arrival.”');
  expect(departure).toContain('form Check-in: a field on it');
  const { body } = await uses({ table: 'quay_stays', field: 'harbour' });
  expect(body.records).toBeGreaterThanOrEqual(0);
});

test('a field tells the labels and the calendars that show it; somebody else’s calendar without its name', async () => {
  const layout = { sheet: COMMON_SHEETS[0], lines: [{ text: 'Berth {berth.longest}' }] };
  await builder.call('POST', '/api/tables/quay_stays/label-layouts', { label: 'Berth cards', layout });
  const calendar = { label: 'Mine', listing: { columns: [{ path: 'number' }] }, begins: 'arrival', ends: 'departure' };
  expect((await clerk.call('POST', '/api/tables/quay_stays/calendars', calendar)).status).toBe(200);
  expect(await listed({ table: 'quay_berths', field: 'longest' })).toContain('labels Berth cards: a line of them');
  expect(await listed({ table: 'quay_stays', field: 'arrival' })).toContain(
    'calendar a calendar of quayclerk: the date of its events',
  );
  expect(await listed({ table: 'quay_stays' })).toContain('labels Berth cards: the table that they are for');
});

test('a table tells what links to it and what is over it, and a view what it feeds', async () => {
  const berths = await listed({ table: 'quay_berths' });
  expect(berths).toContain('table Stays: the link Berth');
  const stays = await listed({ table: 'quay_stays' });
  expect(stays.some((one) => one.startsWith('form Check-in: the table that it is over'))).toBe(true);
  const { body: view } = await builder.call('POST', '/api/tables/quay_stays/views', {
    definition: { label: 'Shared', columns: [{ path: 'number' }], shared: true },
  });
  expect(await listed({ view: String(view.id) })).toEqual([]);
  const draft = (await builder.call('GET', '/api/forms/quay_check_in/draft')).body;
  await builder.call('PUT', '/api/forms/quay_check_in/draft', {
    definition: { ...draft.definition, view: view.id },
    revision: draft.revision,
  });
  expect(await listed({ view: String(view.id) })).toEqual(['form Check-in: which records it shows']);
});

test('a field tells the ripples that read it, before or after, and those that write it', async () => {
  const ripple = {
    id: 'full',
    label: 'Full boats',
    on: ['changed'],
    when: all(is({ kind: 'form', path: 'before__persons' }, { kind: 'constant', value: 1 })),
    effects: [
      {
        does: 'change',
        link: 'berth',
        values: [{ to: 'secret', from: { kind: 'calculation', source: 'before__note' } }],
      },
      {
        does: 'message',
        to: { kind: 'account', login: 'quayclerk' },
        subject: 'Full',
        text: 'Before: {before__number}',
      },
    ],
  };
  expect((await builder.call('PATCH', '/api/tables/quay_stays', { ripples: [ripple] })).status).toBe(200);
  const words = (one: string): boolean => one.includes('the ripple Full boats');
  for (const [table, field] of [
    ['quay_stays', 'persons'],
    ['quay_stays', 'note'],
    ['quay_stays', 'berth'],
    ['quay_stays', 'number'],
    ['quay_berths', 'secret'],
  ])
    expect((await listed({ table: String(table), field: String(field) })).some(words), field).toBe(true);
  expect((await listed({ table: 'quay_stays', field: 'registration' })).some(words)).toBe(false);
  expect((await listed({ table: 'quay_berths' })).some(words)).toBe(true);
});

test('what is not there, or is another cabinet’s, is said to be so; a clerk is not told', async () => {
  expect((await uses({})).status).toBe(422);
  expect((await uses({ table: 'quay_nothing' })).status).toBe(404);
  expect((await uses({ table: 'quay_stays', field: 'nothing' })).status).toBe(404);
  expect((await uses({ view: '99999' })).status).toBe(404);
  expect((await uses({ form: 'quay_nothing' })).status).toBe(404);
  expect((await uses({ table: 'quay_stays' }, clerk)).status).toBe(403);
});
