import { civilOf, DEFAULT_OFFICE, setOffice } from '@fiche/core/office';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { verifyLedger } from '../history/index.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
/** Eleven hours behind UTC and fourteen before it: two zones in which it is never the same day. */
const [EARLY, LATE] = ['Pacific/Pago_Pago', 'Pacific/Kiritimati'];
beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
});
afterAll(async () => {
  setOffice(DEFAULT_OFFICE);
  await office.close();
});

const owner = () => office.database.databases.owner;
const place = (timeZone: string, locale = 'en-GB') =>
  builder.call('PUT', '/api/cabinets/quay/office', { timeZone, locale, currency: 'EUR' });

let keys = 0;
const save = (values: object) =>
  clerk.call(
    'POST',
    '/api/tables/quay_stays/entries',
    { values },
    { 'idempotency-key': `office-${++keys}-0000000000` },
  );

test('nobody has chosen it at first: the server’s time zone counts, and the session says so', async () => {
  const { body } = await clerk.call('GET', '/api/session');
  expect(body).toMatchObject({
    officeIsSet: false,
    office: { timeZone: new Intl.DateTimeFormat().resolvedOptions().timeZone, locale: 'en-GB' },
  });
});

test('who may build says where the office is; what is no zone is refused; it stands in the ledger', async () => {
  expect((await clerk.call('PUT', '/api/cabinets/quay/office', DEFAULT_OFFICE)).status).toBe(403);
  expect(await place('Sound/Gannet')).toMatchObject({
    status: 422,
    body: { errors: [{ path: 'timeZone', message: 'There is no time zone of this name.' }] },
  });
  expect((await place('Europe/Lisbon')).status).toBe(200);
  expect((await place('Europe/Lisbon', 'de-DE')).status).toBe(200);
  expect((await clerk.call('GET', '/api/session')).body).toMatchObject({
    officeIsSet: true,
    office: { timeZone: 'Europe/Lisbon', locale: 'de-DE' },
  });
  const { body } = await builder.call('GET', '/api/cabinets/quay/ledger?limit=1');
  expect(body.lines[0]).toMatchObject({
    what: 'Settings',
    account: 'harbourmaster',
    changes: [{ label: 'Locale', before: 'en-GB', after: 'de-DE' }],
  });
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});

test('a message of the server is written as the office writes', async () => {
  await builder.call('PATCH', '/api/tables/quay_stays/fields/length', { settings: { places: 1, most: 1200.5 } });
  expect(await save({ harbour: 1, length: 2000.5 })).toMatchObject({
    status: 422,
    body: { errors: [{ path: 'length', message: 'At most 1.200,5.' }] },
  });
});

test('today is the office’s day, on whichever server and however its clock is set', async () => {
  await builder.call('PATCH', '/api/tables/quay_stays/fields/arrival', { initial: { kind: 'now' } });
  const arrivals: string[] = [];
  for (const zone of [EARLY, LATE]) {
    await place(zone);
    const { body } = await save({ harbour: 1 });
    arrivals.push(body.record.values.arrival.slice(0, 10));
    expect(civilOf(new Date(), zone).slice(0, 10)).toBe(arrivals.at(-1));
  }
  expect(arrivals[0]).not.toBe(arrivals[1]);
});

test('a day of the ledger begins at the office’s midnight', async () => {
  const actor = {
    name: 'harbourmaster',
    through: { kind: 'seed', label: 'test' },
    at: '2026-08-16T22:30:00Z',
  } as const;
  await asActor(owner(), actor, (transaction) =>
    transaction.raw(`INSERT INTO data.quay_harbours (name) VALUES ('Skerry Haven')`),
  );
  const linesOf = async (day: string) =>
    (await builder.call('GET', `/api/cabinets/quay/ledger?limit=5&table=quay_harbours&from=${day}&to=${day}`)).body
      .lines.length;
  await place('UTC');
  expect([await linesOf('2026-08-16'), await linesOf('2026-08-17')]).toEqual([1, 0]);
  await place('Europe/Helsinki');
  expect([await linesOf('2026-08-16'), await linesOf('2026-08-17')]).toEqual([0, 1]);
});

test('the year of a sequence number is the office’s year', async () => {
  const numbers: string[] = [];
  for (const zone of [EARLY, LATE]) {
    await place(zone);
    const actor = {
      name: 'harbourmaster',
      through: { kind: 'seed', label: 'test' },
      at: '2027-01-01T05:00:00Z',
    } as const;
    const { rows } = await asActor(owner(), actor, (transaction) =>
      transaction.raw('INSERT INTO data.quay_stays (harbour) VALUES (1) RETURNING number'),
    );
    numbers.push(rows[0].number);
  }
  expect(numbers).toEqual([expect.stringMatching(/^STAY-2026-/), 'STAY-2027-00001']);
});

test('two servers follow one office: the second takes it up with its next request', async () => {
  const { buildApp } = await import('../app.ts');
  const { createServices } = await import('../work.ts');
  const other = await buildApp({ services: createServices(office.database.databases, { leastSeconds: null }) });
  await place('Europe/Oslo', 'nb-NO');
  const page = await other.inject({ method: 'GET', url: '/api/public/arrival' });
  expect(page.json().office).toEqual({ timeZone: 'Europe/Oslo', locale: 'nb-NO', currency: 'EUR' });
  await other.close();
});
