import { nextStep, type Step } from '@fiche/core/charts';
import { dayDate } from '@fiche/core/office';
import type { Listing } from '@fiche/core/views';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { addLimitedRoles } from '../fixtures/limitedRoles.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;
const STAYS = '/api/tables/quay_stays';
const columns = [{ path: 'number' }];
const listing = (chart: object, more: Partial<Listing> = {}) => ({ columns, shown: { as: 'chart', chart }, ...more });
const figures = (chart: object, more: object = {}, who = builder) =>
  who.call('POST', `${STAYS}/figures`, { listing: listing(chart), ...more });
const write = (sql: string) =>
  asActor(office.database.databases.owner, { name: 'quayclerk', through: { kind: 'seed', label: 'test' } }, (owner) =>
    owner.raw(sql),
  );

interface Bar {
  readonly value: unknown;
  readonly title: string | null;
  readonly count: number;
  readonly amount: number | null;
  readonly parts?: (number | null)[];
}

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office);
  builder = await office.signIn('harbourmaster');
  await write(`INSERT INTO data.quay_stays (harbour, pontoon, length, registration, persons, arrival)
    SELECT 1 + n % 2, CASE WHEN n % 3 > 0 THEN 1 + n % 3 END, CASE WHEN n % 4 > 0 THEN (n * 7 % 11) / 2.0 END,
      'GS-' || n % 60, CASE WHEN n % 2 > 0 THEN 1 + n % 5 END,
      CASE WHEN n % 5 > 1 THEN timestamp '2026-08-01 12:00' + n % 40 * interval '1 day' END FROM generate_series(1, 120) n`);
});
afterAll(() => office.close());

/** The records of the test office, as a program would sum them by itself. */
async function records(): Promise<Record<string, string | number | null>[]> {
  const { body } = await builder.call('POST', `${STAYS}/rows`, { listing: { columns }, limit: 200 });
  return body.records.map((one: { values: object }) => one.values);
}

/** The first day of the step that a moment lies in, by the days of core. */
function beginOf(moment: string, step: Step): string {
  const day = moment.slice(0, 10);
  const date = dayDate(day);
  if (step === 'day') return day;
  if (step === 'week')
    return new Date(date.getTime() - ((date.getUTCDay() + 6) % 7) * 86_400_000).toISOString().slice(0, 10);
  return step === 'month' ? `${day.slice(0, 7)}-01` : `${day.slice(0, 4)}-01-01`;
}

const AGGREGATES: Record<string, (numbers: number[]) => number | null> = {
  sum: (numbers) => (numbers.length === 0 ? null : numbers.reduce((sum, one) => sum + one, 0)),
  average: (numbers) => (numbers.length === 0 ? null : numbers.reduce((sum, one) => sum + one, 0) / numbers.length),
  least: (numbers) => (numbers.length === 0 ? null : Math.min(...numbers)),
  most: (numbers) => (numbers.length === 0 ? null : Math.max(...numbers)),
};

describe('the figures of a chart', () => {
  test('over time are those that a program gets which reads every record, whatever the step and the measure', async () => {
    const seen = await records();
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom<Step>('day', 'week', 'month', 'year'),
        fc.constantFrom('count', 'sum', 'average', 'least', 'most'),
        async (step, of) => {
          const measure = of === 'count' ? { of } : { of, path: 'length' };
          const { body } = await figures({ kind: 'time', path: 'arrival', step, measure });
          const wanted = new Map<string, (number | null)[]>();
          for (const one of seen)
            if (typeof one.arrival === 'string') {
              const at = beginOf(one.arrival, step);
              wanted.set(at, [...(wanted.get(at) ?? []), one.length as number | null]);
            }
          const bars = [...wanted]
            .sort(([a], [b]) => (a < b ? -1 : 1))
            .map(([value, lengths]) => {
              const numbers = lengths.filter((one) => one !== null);
              return {
                value,
                count: lengths.length,
                amount: of === 'count' ? lengths.length : (AGGREGATES[of]?.(numbers) ?? null),
              };
            });
          expect(body.step).toBe(step);
          expect(body.bars.map((bar: Bar) => ({ value: bar.value, count: bar.count, amount: bar.amount }))).toEqual(
            bars.map((bar) => ({ ...bar, amount: bar.amount === null ? null : expect.closeTo(bar.amount, 9) })),
          );
          expect(body.blank).toBe(seen.filter((one) => one.arrival === null).length);
          expect(body.total).toBe(seen.length);
        },
      ),
      { numRuns: 20 },
    );
  });

  test('by a link have its title, are divided by a second field, and the parts add up to the bar', async () => {
    const { body } = await figures({ kind: 'categories', path: 'harbour', stacked: 'pontoon' });
    expect(body.bars.map((bar: Bar) => bar.title)).toEqual(['Gannet Quay', 'Tern Cove']);
    expect(body.parts.at(-1)).toEqual({ value: null, title: null });
    for (const bar of body.bars as Bar[])
      expect((bar.parts ?? []).reduce((sum: number, one) => sum + (one ?? 0), 0)).toBe(bar.amount);
  });

  test('of more categories than are drawn sum up the smaller ones, and say how many they are', async () => {
    const { body } = await figures({ kind: 'categories', path: 'registration' });
    expect([body.bars.length, body.others]).toEqual([40, { values: 20, count: 40, amount: 40 }]);
    expect(body.bars.reduce((sum: number, bar: Bar) => sum + bar.count, 0)).toBe(80);
  });

  test('of two numbers are records in cells, each with its own bounds; those without both are counted', async () => {
    const { body } = await figures({ kind: 'points', x: 'length', y: 'persons' });
    const seen = await records();
    const whole = seen.filter((one) => one.length !== null && one.persons !== null);
    expect(body.cells.reduce((sum: number, cell: { count: number }) => sum + cell.count, 0)).toBe(whole.length);
    expect(body.blank).toBe(seen.length - whole.length);
    for (const { count, x, xs, ys } of body.cells) {
      const inside = whole.filter(
        ({ length, persons }) =>
          Number(length) >= xs[0] && Number(length) <= xs[1] && Number(persons) >= ys[0] && Number(persons) <= ys[1],
      );
      expect(inside).toHaveLength(count);
      expect(x).toBeGreaterThanOrEqual(xs[0]);
    }
  });

  test('from 1900 to 9999 are shown by a longer step, and the step says which', async () => {
    await write(
      "INSERT INTO data.quay_stays (harbour, note, arrival) VALUES (1, 'far', '1900-01-01 00:00'), (1, 'far', '9999-12-31 23:00')",
    );
    const { body } = await figures({ kind: 'time', path: 'arrival', step: 'day' });
    expect(body.step).toBe('century');
    expect(body.bars[0]).toMatchObject({ value: '1801-01-01', count: 1 });
    expect(nextStep(body.bars[0].value, body.step)).toBe('1901-01-01');
    await write("DELETE FROM data.quay_stays WHERE note = 'far'");
  });

  test('of one record, and of none, are there', async () => {
    const only = {
      kind: 'group',
      match: 'all',
      of: [
        {
          kind: 'compare',
          left: { kind: 'column', path: 'persons' },
          operator: 'is',
          right: { kind: 'constant', value: 99 },
        },
      ],
    };
    for (const chart of [
      { kind: 'time', path: 'arrival' },
      { kind: 'categories', path: 'harbour', stacked: 'pontoon' },
    ]) {
      const { body } = await builder.call('POST', `${STAYS}/figures`, {
        listing: listing(chart, { filter: only as Listing['filter'] }),
      });
      expect(body).toMatchObject({ bars: [], parts: [], total: 0 });
    }
    const { body } = await builder.call('POST', `${STAYS}/figures`, {
      listing: listing({ kind: 'points', x: 'length', y: 'persons' }, { filter: only as Listing['filter'] }),
    });
    expect(body).toEqual({ kind: 'points', cells: [], blank: 0, total: 0 });
  });
});

describe('a chart is held to what its reader sees', () => {
  test('its figures leave out what a role does not see, and a field that is hidden is no field', async () => {
    const ranged = await office.signIn('theranged');
    const { body } = await figures({ kind: 'categories', path: 'harbour' }, {}, ranged);
    expect(body.bars).toHaveLength(1);
    const blind = await office.signIn('theblind');
    const { status, body: refused } = await figures({ kind: 'categories', path: 'note' }, {}, blind);
    expect([status, refused.errors[0].message]).toEqual([
      422,
      'note is not a field of Stays any more. Choose another one.',
    ]);
  });

  test.each([
    [{ kind: 'time', path: 'registration' }, 'path', 'Registration is not a date. Choose a field that holds a date.'],
    [{ kind: 'categories', path: 'gone' }, 'path', 'gone is not a field of Stays any more. Choose another one.'],
    [
      { kind: 'categories', path: 'harbour', measure: { of: 'sum', path: 'note' } },
      'measure',
      'Note is not a number. Choose a field that holds a number.',
    ],
    [
      { kind: 'categories', path: 'harbour', measure: { of: 'average', path: 'length' }, stacked: 'pontoon' },
      'stacked',
      'Bars are divided where they count or sum records. Choose the count or the sum, or no second field.',
    ],
    [
      { kind: 'points', x: 'length', y: 'harbour' },
      'y',
      'Harbour is not a number. Choose a field that holds a number.',
    ],
  ])('%j is refused at its place', async (chart, at, message) => {
    const { status, body } = await figures(chart);
    expect([status, body.errors]).toEqual([422, [expect.objectContaining({ path: `listing.shown.${at}`, message })]]);
  });

  test('a list has no figures, and says what to choose', async () => {
    const { status, body } = await builder.call('POST', `${STAYS}/figures`, { listing: { columns } });
    expect([status, body.detail]).toEqual([422, 'This is not shown as a chart. Choose Chart, then what it shows.']);
  });

  test('a saved chart whose field is retired is there to be mended, and has no figures', async () => {
    await builder.call('POST', `${STAYS}/fields`, {
      field: { label: 'Weather', type: 'choice', settings: { choices: ['Fair', 'Foul'] } },
    });
    const shown = { as: 'chart', chart: { kind: 'categories', path: 'weather' } };
    const { body: view } = await builder.call('POST', `${STAYS}/views`, {
      definition: { label: 'By weather', columns, shared: true, shown },
    });
    const uses = await builder.call('GET', '/api/cabinets/quay/uses?table=quay_stays&field=weather');
    expect(JSON.stringify(uses.body)).toContain('the bars of its chart');
    const { body } = await builder.call('GET', `${STAYS}/views/${view.id}/figures`);
    expect(body).toMatchObject({ kind: 'bars', bars: [{ value: null, count: 120 }], blank: 120 });
    await write(
      "DELETE FROM fiche.field WHERE table_id = 'quay_stays' AND id = 'weather'; UPDATE fiche.cabinet SET revision = revision + 1 WHERE id = 'quay'",
    );
    const { body: mine } = await builder.call('GET', `${STAYS}/views`);
    expect(mine.views.find((one: { id: number }) => one.id === view.id).problem).toBe(
      'weather is not a field of Stays any more. Choose another one.',
    );
    expect((await builder.call('GET', `${STAYS}/views/${view.id}/figures`)).status).toBe(404);
  });

  test('as of a moment has the records of then', async () => {
    const by = { kind: 'categories', path: 'harbour' };
    const { rows } = await office.database.databases.owner.raw("SELECT to_json(clock_timestamp())#>>'{}' AS now");
    await write("INSERT INTO data.quay_stays (harbour, note) VALUES (1, 'later')");
    expect((await figures(by)).body.total).toBe(121);
    expect((await figures(by, { asOf: rows[0].now })).body.total).toBe(120);
  });
});
