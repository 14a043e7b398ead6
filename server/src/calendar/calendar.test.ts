import { intervalOf, minutesOf, overlap, type Period } from '@fiche/core/calendar';
import { all } from '@fiche/core/conditions';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { addLimitedRoles } from '../fixtures/limitedRoles.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;
const STAYS = '/api/tables/quay_stays';
const lanes = { start: 'arrival', end: 'departure', lane: 'berth' };
const listing = (more: object = {}) => ({
  columns: [{ path: 'number' }],
  shown: { as: 'lanes', lanes: { ...lanes, label: 'vessel' } },
  ...more,
});
const periods = (from: string, to: string, more: object = {}, who = builder) =>
  who.call('POST', `${STAYS}/periods`, { listing: listing(), from, to, ...more });
const free = (from: string, to: string, more: object = {}, who = builder) =>
  who.call('POST', `${STAYS}/free-lanes`, { ...lanes, from, to, ...more });
const write = (sql: string) =>
  asActor(office.database.databases.owner, { name: 'quayclerk', through: { kind: 'seed', label: 'test' } }, (owner) =>
    owner.raw(sql),
  );
const idsOf = (body: { lanes: { id: number }[] }): number[] => body.lanes.map((one) => one.id).sort((a, b) => a - b);

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office);
  builder = await office.signIn('harbourmaster');
  // Some stays have no end, some end before they begin, some lie in no berth.
  await write(`INSERT INTO data.quay_stays (harbour, berth, vessel, arrival, departure, archived_at)
    SELECT 1 + n % 2, CASE WHEN n % 7 > 0 THEN 1 + n % 4 END, 1 + n % 2, timestamp '2026-08-01 12:00' + n * interval '31 hours',
      CASE WHEN n % 10 > 0 THEN timestamp '2026-08-01 12:00' + n * interval '31 hours' + (n % 5 - 1) * interval '20 hours' END,
      CASE WHEN n % 9 = 0 THEN now() END
    FROM generate_series(1, 40) n`);
});
afterAll(() => office.close());

async function allPeriods(): Promise<Period[]> {
  return (await periods('1990-01-01', '2100-01-01')).body.periods;
}

describe('the periods of a calendar', () => {
  test('are those that lie in the days, also where they begin before or last on, whatever the days', async () => {
    const known = await allPeriods();
    expect(known).toHaveLength(36);
    await fc.assert(
      fc.asyncProperty(fc.nat(80), fc.integer({ min: 1, max: 20 }), async (first, length) => {
        const day = (n: number): string => new Date(Date.UTC(2026, 6, 20 + n)).toISOString().slice(0, 10);
        const [from, to] = [day(first), day(first + length)];
        const window = { from: minutesOf(from), to: minutesOf(to) };
        const { body } = await periods(from, to);
        const found = new Set(body.periods.map((one: Period) => one.id));
        // None that lies in the days is missing; one that ends where they begin may come as well.
        for (const one of known)
          if (overlap(intervalOf(one, true), window) && minutesOf(one.start) < window.to) {
            const turned = one.end !== null && one.end < one.start && minutesOf(one.start) >= window.to;
            if (!turned) expect(found.has(one.id)).toBe(true);
          }
        for (const one of body.periods as Period[]) expect(minutesOf(one.start)).toBeLessThan(window.to);
      }),
      { numRuns: 25 },
    );
    expect(known[0]).toMatchObject({ label: expect.any(String), lane: expect.any(Number), start: '2026-08-02T19:00' });
  });

  test('keep to what a role sees, and to the filter of the list', async () => {
    const ranged = await office.signIn('theranged');
    const { body } = await periods('2026-08-01', '2026-09-01', {}, ranged);
    expect(body.periods.length).toBeGreaterThan(0);
    expect(body.periods.length).toBeLessThan((await periods('2026-08-01', '2026-09-01')).body.periods.length);
    const none = { kind: 'compare', left: { kind: 'column', path: 'note' }, operator: 'isNotBlank' } as const;
    const filtered = await builder.call('POST', `${STAYS}/periods`, {
      listing: listing({ filter: all(none) }),
      from: '2026-08-01',
      to: '2026-09-01',
    });
    expect(filtered.body).toEqual({ periods: [], more: false });
  });

  test('of what is no date or no link are refused at their place, a day that is none too', async () => {
    const wrong = async (shown: object) =>
      (
        await builder.call('POST', `${STAYS}/periods`, {
          listing: listing({ shown }),
          from: '2026-08-01',
          to: '2026-09-01',
        })
      ).body.errors[0];
    expect(await wrong({ as: 'calendar', calendar: { start: 'note' } })).toMatchObject({
      path: 'listing.shown.start',
      message: 'Note is not a date. Choose a field that holds a date.',
    });
    expect(await wrong({ as: 'lanes', lanes: { ...lanes, lane: 'note' } })).toMatchObject({
      path: 'listing.shown.lane',
      message: 'Note does not link to one record. Choose a link: each record that it can point at gets a lane.',
    });
    expect((await periods('2026-08-32', '2026-09-01')).status).toBe(422);
  });
});

describe('free lanes', () => {
  test('are those in which no period overlaps the time, as the rule against overlaps reckons it', async () => {
    const known = (await allPeriods()).filter((one) => one.lane !== null);
    await fc.assert(
      fc.asyncProperty(fc.nat(70 * 24), fc.integer({ min: 1, max: 200 }), async (first, hours) => {
        const at = (n: number): string => new Date(Date.UTC(2026, 6, 25, n)).toISOString().slice(0, 16);
        const [from, to] = [at(first), at(first + hours)];
        const taken = new Set(
          known
            .filter(({ start, end }) => {
              const ends = end ?? '9999';
              return (start < ends ? start : ends) < to && (start < ends ? ends : start) > from;
            })
            .map((one) => one.lane),
        );
        const { body } = await free(from, to);
        const { rows } = await office.database.databases.owner.raw(
          'SELECT id::int FROM data.quay_berths WHERE archived_at IS NULL ORDER BY id',
        );
        expect(idsOf(body)).toEqual(rows.map((row: { id: number }) => row.id).filter((id: number) => !taken.has(id)));
        expect(body.total).toBe(body.lanes.length);
      }),
      { numRuns: 25 },
    );
  });

  test('answer a question with conditions, and say what is wrong with one', async () => {
    const { rows } = await office.database.databases.owner.raw(
      'SELECT count(*)::int AS n FROM data.quay_berths WHERE longest >= 12 AND archived_at IS NULL',
    );
    const longest = {
      kind: 'compare',
      left: { kind: 'column', path: 'longest' },
      operator: 'atLeast',
      right: { kind: 'constant', value: 12 },
    } as const;
    expect((await free('2020-06-03', '2020-06-09', { where: all(longest) })).body.total).toBe(rows[0].n);
    expect((await free('2026-06-09', '2026-06-03')).body.errors[0]).toMatchObject({
      path: 'to',
      message: 'This is not after the beginning. Choose a later end.',
    });
    const blind = await office.signIn('theblind');
    const secret = { ...longest, left: { kind: 'column', path: 'secret' } } as const;
    expect((await free('2026-06-03', '2026-06-09', { where: all(secret) }, blind)).body.errors[0].message).toBe(
      'secret is not a field of Berths. Change or remove its condition.',
    );
  });
});
