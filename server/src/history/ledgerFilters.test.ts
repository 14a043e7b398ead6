import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { addLimitedRoles, LIMITED_ROLES } from '../fixtures/limitedRoles.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;
const owner = () => office.database.databases.owner;

/** Writes as somebody, at a moment of the past. */
const at = (account: string, moment: string, sql: string, through: object = { kind: 'seed', label: 'test' }) =>
  asActor(owner(), { name: account, through: through as { kind: 'seed'; label: string }, at: moment }, (write) =>
    write.raw(sql),
  );
const add = (note: string, persons = 1): string =>
  `INSERT INTO data.quay_stays (harbour, note, persons, arrival) VALUES (1, '${note}', ${persons}, '2026-08-17 10:00')`;

/** The notes of the lines that a filter finds, oldest first. */
const notes = async (filter: Record<string, string>, who = builder): Promise<string[]> => {
  const asked = new URLSearchParams({ table: 'quay_stays', limit: '200', ...filter });
  const { status, body } = await who.call('GET', `/api/cabinets/quay/ledger?${asked}`);
  expect(status, JSON.stringify(body)).toBe(200);
  return body.lines
    .map(
      (line: { changes: { field: string; after: string }[] }) =>
        line.changes.find((one) => one.field === 'note')?.after,
    )
    .filter((note: string | undefined) => note !== undefined)
    .reverse();
};

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office, { seer: { ...LIMITED_ROLES.blind, label: 'Reads the ledger', rights: ['ledger'] } });
  builder = await office.signIn('harbourmaster');
  await owner().raw('UPDATE fiche.cabinet SET revision = revision + 1');
  await builder.call('PUT', '/api/settings/office', { timeZone: 'UTC', locale: 'en-GB', currency: 'EUR' });
  await at('quayclerk', '2026-03-03T10:00:00Z', add('Storm by day', 2));
  await at('quayclerk', '2026-03-03T23:30:00Z', add('100%_sure', 3));
  await at('quayclerk', '2026-03-04T02:00:00Z', add('Late one', 4));
  await at('quayclerk', '2026-03-04T03:00:00Z', add('Later one', 5));
  await at('auditor', '2026-03-07T12:00:00Z', add('On Saturday', 6), { kind: 'form', label: 'Check-in', version: 1 });
  await at(
    'quayclerk',
    '2026-03-09T12:00:00Z',
    `UPDATE data.quay_stays SET note = 'Calm' WHERE note = 'Storm by day'`,
    {
      kind: 'table',
      label: 'Stays',
      reasons: [{ message: 'Is it calm?', reason: 'looked out' }],
    },
  );
});
afterAll(() => office.close());

describe('lines of the ledger are found', () => {
  test('by what stands in a value, before or after, whatever letters it has', async () => {
    expect(await notes({ value: 'storm' })).toEqual(['Storm by day', 'Calm']);
    expect(await notes({ value: '100%_s' })).toEqual(['100%_sure']);
    expect(await notes({ value: '%' })).toEqual(['100%_sure']);
    expect(await notes({ value: '17 Aug 2026' })).toHaveLength(5);
    expect(await notes({ value: 'storm', field: 'persons' })).toEqual([]);
    expect(await notes({ value: '6', field: 'persons' })).toEqual(['On Saturday']);
  });

  test('by record, form, time of day, and whether a rule asked', async () => {
    const { id } = await owner()('data.quay_stays').where({ note: 'Calm' }).first();
    expect(await notes({ record: String(id) })).toEqual(['Storm by day', 'Calm']);
    expect(await notes({ form: 'quay_check_in' })).toEqual(['On Saturday']);
    expect(await notes({ hours: 'night', to: '2026-03-31' })).toEqual(['100%_sure', 'Late one', 'Later one']);
    expect(await notes({ hours: 'day', to: '2026-03-31' })).toEqual(['Storm by day', 'On Saturday', 'Calm']);
    expect(await notes({ hours: 'weekend', to: '2026-03-31' })).toEqual(['On Saturday']);
    expect(await notes({ asked: 'yes' })).toEqual(['Calm']);
  });

  test('not by a value that the role does not see', async () => {
    const blind = await office.signIn('theseer');
    const asked = (value: string) => blind.call('GET', `/api/cabinets/quay/ledger?table=quay_stays&value=${value}`);
    expect((await asked('Storm')).body.lines).toEqual([]);
    expect((await asked('2026-08-17')).body.lines).toHaveLength(5);
  });
});

describe('the overview of the ledger', () => {
  const overview = async (filter: Record<string, string>) =>
    (await builder.call('GET', `/api/cabinets/quay/ledger/overview?${new URLSearchParams(filter)}`)).body;

  test('counts saves by day and person, by hour where few days are looked at', async () => {
    const days = await overview({ table: 'quay_stays', from: '2026-03-01', to: '2026-03-31' });
    expect(days).toMatchObject({ step: 'day', from: '2026-03-01', to: '2026-03-31' });
    expect(days.counts).toEqual([
      { begin: '2026-03-03T00:00', account: 'quayclerk', count: 2 },
      { begin: '2026-03-04T00:00', account: 'quayclerk', count: 2 },
      { begin: '2026-03-07T00:00', account: 'auditor', count: 1 },
      { begin: '2026-03-09T00:00', account: 'quayclerk', count: 1 },
    ]);
    const hours = await overview({ table: 'quay_stays', from: '2026-03-03', to: '2026-03-04' });
    expect(hours.step).toBe('hour');
    expect(hours.counts.map((one: { begin: string }) => one.begin)).toEqual([
      '2026-03-03T10:00',
      '2026-03-03T23:00',
      '2026-03-04T02:00',
      '2026-03-04T03:00',
    ]);
    expect((await overview({ from: '2025-01-01', to: '2026-03-31' })).step).toBe('week');
  });

  test('points at nights, bursts, erasures, direct sessions, and what a rule asked about', async () => {
    const march = await overview({ table: 'quay_stays', from: '2026-03-01', to: '2026-03-31' });
    expect(march.unusual).toEqual([
      { kind: 'night', account: 'quayclerk', day: '2026-03-03', count: 3, at: null },
      { kind: 'asked', account: 'quayclerk', day: '2026-03-09', count: 1, at: null },
    ]);
    await owner().raw("UPDATE data.quay_stays SET note = 'by hand' WHERE note = 'Calm'");
    for (let n = 0; n < 41; n++)
      await at('auditor', `2026-03-20T12:0${Math.floor(n / 10)}:${String(10 + (n % 10))}Z`, add(`burst ${n}`));
    const all = await overview({ table: 'quay_stays', from: '2026-03-15' });
    const found = all.unusual.map(({ kind, account, count }: { kind: string; account: string; count: number }) => [
      kind,
      account.split(':')[0],
      count,
    ]);
    expect(found).toContainEqual(['burst', 'auditor', 41]);
    expect(found).toContainEqual(['direct', 'db', 1]);
  });
});
