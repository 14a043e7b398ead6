import fc from 'fast-check';
import { afterEach, describe, expect, test } from 'vitest';
import { type Condition, holds } from '../conditions/index.ts';
import { testField as field } from '../fixtures/testField.ts';
import { DEFAULT_OFFICE, dateDay, dayDate, setOffice } from '../office/index.ts';
import {
  amountWords,
  axisWords,
  type BarChart,
  type BarFigures,
  chartProblems,
  chartSchema,
  chartWords,
  drawCategoryBars,
  drawPoints,
  drawTimeBars,
  extentOf,
  type FieldAt,
  type FigureBar,
  groupWords,
  nextStep,
  recordsBehind,
  recordsInCell,
  STEPS,
  type Step,
  stackBars,
  stepWords,
} from './index.ts';

const FIELDS = [
  field('arrival', 'Arrival', 'dateTime'),
  field('insured', 'Insured until', 'date'),
  field('berth', 'Berth', 'link', { table: 'quay_berths' }),
  field('kind', 'Kind', 'choice', { choices: ['Ketch', 'Tender'] }),
  field('services', 'Services', 'choices', { choices: ['Water', 'Power'] }),
  field('persons', 'Persons', 'wholeNumber'),
  field('length', 'Length', 'decimal', { places: 1 }),
  field('note', 'Note', 'longText'),
  field('waived', 'Waived', 'yesNo'),
];
const fieldAt: FieldAt = (path) => {
  const found = FIELDS.find((one) => one.id === path);
  return found && { label: found.label, field: found };
};
const words = { amount: String, bar: (at: number) => `bar ${at}`, part: (at: number) => `part ${at}` };
const bar = (value: string, amount: number | null, parts?: (number | null)[]): FigureBar => ({
  value,
  title: null,
  count: 1,
  amount,
  ...(parts ? { parts } : {}),
});
const figuresOf = (bars: FigureBar[], parts = 0, step: Step | null = null): BarFigures => ({
  kind: 'bars',
  step,
  bars,
  others: null,
  parts: Array.from({ length: parts }, (_, at) => ({ value: `p${at}`, title: null })),
  blank: 0,
  total: bars.length,
});
/** Numbers as fields hold them: with three decimal places. */
const amounts = fc.integer({ min: -1e9, max: 1e9 }).map((n) => n / 1_000);

afterEach(() => setOffice(DEFAULT_OFFICE));

describe('stacks', () => {
  test('of a bar reach from 0 to the sum of what is above it, and down to the sum of what is below; nothing overlaps', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.oneof(fc.constant(null), amounts), { minLength: 3, maxLength: 3 }), { maxLength: 12 }),
        (rows) => {
          const bars = rows.map((parts, at) => bar(`b${at}`, 0, parts));
          const stacked = stackBars(bars, 3);
          for (const [at, parts] of rows.entries()) {
            const own = stacked.filter((one) => one.bar === at);
            const sum = (numbers: (number | null)[]): number =>
              numbers.reduce<number>((all, one) => all + (one ?? 0), 0);
            const up = sum(parts.filter((one) => (one ?? 0) > 0));
            const down = sum(parts.filter((one) => (one ?? 0) < 0));
            expect(Math.max(0, ...own.map((one) => one.to))).toBeCloseTo(up, 4);
            expect(Math.min(0, ...own.map((one) => one.to))).toBeCloseTo(down, 4);
            for (const one of own) expect(one.to - one.from).toBeCloseTo(parts[one.part ?? 0] ?? 0, 4);
            const spans = own
              .map(({ from, to }) => [Math.min(from, to), Math.max(from, to)] as const)
              .sort((a, b) => a[0] - b[0]);
            for (const [n, span] of spans.entries())
              expect(span[0]).toBeGreaterThanOrEqual((spans[n - 1]?.[1] ?? Number.NEGATIVE_INFINITY) - 1e-4);
          }
          const [least, most] = extentOf(stacked);
          expect(least).toBeLessThanOrEqual(0);
          expect(most).toBeGreaterThanOrEqual(0);
        },
      ),
    );
  });

  test('without parts a bar is one, and one without a number is none', () => {
    expect(stackBars([bar('a', 3), bar('b', null)], 0)).toEqual([{ bar: 0, part: null, from: 0, to: 3 }]);
  });
});

describe('drawings', () => {
  const inside = (drawing: ReturnType<typeof drawCategoryBars>): void => {
    for (const mark of drawing.marks) {
      if (mark.shape !== 'bar') continue;
      expect(mark.x).toBeGreaterThanOrEqual(-0.001);
      expect(mark.x + mark.width).toBeLessThanOrEqual(drawing.width + 1);
      expect(mark.y).toBeGreaterThanOrEqual(-0.001);
      expect(mark.y + mark.height).toBeLessThanOrEqual(drawing.height + 1);
    }
  };

  test('of categories stay within their picture, and bars are as long as their amounts say', () => {
    fc.assert(
      fc.property(
        fc.array(amounts, { minLength: 1, maxLength: 40 }),
        fc.integer({ min: 280, max: 1_400 }),
        (found, width) => {
          const drawing = drawCategoryBars(figuresOf(found.map((amount, at) => bar(`b${at}`, amount))), width, words);
          inside(drawing);
          const long = (at: number): number =>
            drawing.marks.flatMap((mark) => (mark.shape === 'bar' && mark.bar === at ? [mark.width] : []))[0] ?? 1;
          for (const [a, one] of found.entries())
            for (const [b, other] of found.entries())
              if (Math.abs(one) > Math.abs(other)) expect(long(a)).toBeGreaterThanOrEqual(long(b) - 0.001);
        },
      ),
    );
  });

  test('over time stay within their picture, in order, from any first day on', () => {
    fc.assert(
      fc.property(
        fc.constantFrom<Step>(...STEPS),
        fc.integer({ min: 1900, max: 9_000 }),
        fc.array(amounts, { minLength: 1, maxLength: 60 }),
        (step, year, found) => {
          let day = `${year}-01-01`;
          const bars = found.map((amount) => {
            const own = bar(day, amount);
            day = nextStep(day, step);
            return own;
          });
          const drawing = drawTimeBars(figuresOf(bars, 0, step), { width: 640, height: 300 }, words);
          inside(drawing);
          expect(drawing.marks).toHaveLength(found.length);
          const xs = drawing.marks.map((mark) => mark.x);
          expect([...xs].sort((a, b) => a - b)).toEqual(xs);
          for (const text of drawing.texts) expect(Number.isFinite(text.x) && Number.isFinite(text.y)).toBe(true);
        },
      ),
    );
  });

  test('of one bar, of none, of nothing but blanks and of zeros are whole', () => {
    expect(
      drawTimeBars(figuresOf([bar('2026-08-17', 4)], 0, 'week'), { width: 640, height: 300 }, words).marks,
    ).toHaveLength(1);
    expect(drawTimeBars(figuresOf([], 0, 'week'), { width: 640, height: 300 }, words).marks).toEqual([]);
    expect(drawCategoryBars(figuresOf([]), 400, words).marks).toEqual([]);
    inside(drawCategoryBars(figuresOf([bar('a', 0), bar('b', 0)]), 400, words));
    inside(drawTimeBars(figuresOf([bar('2026-08-17', 0)], 0, 'day'), { width: 300, height: 120 }, words));
  });

  test('of two numbers put every circle between the axes, also where all are the same', () => {
    const cell = (x: number, y: number, count: number) => ({
      x,
      y,
      count,
      xs: [x, x] as [number, number],
      ys: [y, y] as [number, number],
    });
    const cells = fc.array(fc.tuple(amounts, amounts, fc.integer({ min: 1, max: 1e6 })), {
      minLength: 1,
      maxLength: 50,
    });
    fc.assert(
      fc.property(cells, (found) => {
        const figures = {
          kind: 'points' as const,
          cells: found.map(([x, y, count]) => cell(x, y, count)),
          blank: 0,
          total: 1,
        };
        const drawing = drawPoints(
          figures,
          { width: 640, height: 320 },
          { x: String, y: String, xLabel: 'Length', yLabel: 'Persons' },
        );
        for (const mark of drawing.marks)
          if (mark.shape === 'point') {
            expect(mark.x - mark.radius).toBeGreaterThanOrEqual(0);
            expect(mark.x + mark.radius).toBeLessThanOrEqual(640);
            expect(mark.y + mark.radius).toBeLessThanOrEqual(320);
          }
      }),
    );
  });

  test('the legend goes on in another row where they do not fit, and long names are shortened', () => {
    const figures = figuresOf([bar('a', 1, [1, 0, 0, 0])], 4);
    const drawing = drawCategoryBars(figures, 260, {
      ...words,
      part: (at) => `a harbour with a very long name ${at}`,
      bar: () => 'x'.repeat(200),
    });
    expect(new Set(drawing.legend.map((one) => one.y)).size).toBeGreaterThan(1);
    expect(drawing.texts[0]?.text).toMatch(/…$/);
  });
});

describe('steps of time', () => {
  test('follow one another without a gap, and begin where PostgreSQL lets them begin', () => {
    fc.assert(
      fc.property(
        fc.constantFrom<Step>('day', 'week', 'month', 'year'),
        fc.integer({ min: 0, max: 200_000 }),
        (step, n) => {
          const day = dateDay(new Date(n * 86_400_000));
          const next = nextStep(day, step);
          expect(next > day).toBe(true);
          // Whatever day of a step one begins with, the next step begins at the same day.
          const before = dateDay(new Date(dayDate(next).getTime() - 86_400_000));
          expect(nextStep(before, step)).toBe(next);
        },
      ),
    );
    expect([nextStep('2021-01-01', 'decade'), nextStep('1901-01-01', 'century')]).toEqual(['2031-01-01', '2001-01-01']);
  });

  test('read as people write them, in the office’s locale', () => {
    expect(STEPS.map((step) => stepWords('2026-08-17', step)).slice(0, 3)).toEqual([
      '17 Aug 2026',
      'Week of 17 Aug 2026',
      'August 2026',
    ]);
    expect([
      stepWords('2026-01-01', 'year'),
      stepWords('2020-01-01', 'decade'),
      stepWords('1901-01-01', 'century'),
    ]).toEqual(['2026', '2020 to 2029', '1901 to 2000']);
    setOffice({ ...DEFAULT_OFFICE, locale: 'fr-FR' });
    expect(stepWords('2026-08-17', 'month')).toBe('août 2026');
  });
});

describe('what a bar leads to', () => {
  const chart = (given: object) => chartSchema.parse(given) as BarChart;
  const finds = (where: Condition | undefined, values: object): boolean | undefined =>
    where &&
    holds(where, (operand) =>
      operand.kind === 'column'
        ? ((values as Record<string, never>)[operand.path] ?? null)
        : operand.kind === 'constant'
          ? operand.value
          : null,
    );

  test('is a condition that holds for exactly the records of its step', () => {
    const time = chart({ kind: 'time', path: 'arrival' });
    const where = recordsBehind(time, 'week', bar('2026-08-17', 3), undefined, fieldAt);
    expect(
      ['2026-08-16T23:59', '2026-08-17T00:00', '2026-08-23T23:59', '2026-08-24T00:00'].map((arrival) =>
        finds(where, { arrival }),
      ),
    ).toEqual([false, true, true, false]);
    const days = recordsBehind(
      chart({ kind: 'time', path: 'insured' }),
      'month',
      bar('2026-02-01', 1),
      undefined,
      fieldAt,
    );
    expect(['2026-01-31', '2026-02-01', '2026-02-28', '2026-03-01'].map((insured) => finds(days, { insured }))).toEqual(
      [false, true, true, false],
    );
  });

  test('says both fields of a divided bar, blanks as such, and one of several choices', () => {
    const by = chart({ kind: 'categories', path: 'berth', stacked: 'kind' });
    const where = recordsBehind(by, null, { ...bar('', 1), value: 7 }, { value: null, title: null }, fieldAt);
    expect([finds(where, { berth: 7 }), finds(where, { berth: 7, kind: 'Ketch' }), finds(where, { berth: 8 })]).toEqual(
      [true, false, false],
    );
    const several = recordsBehind(
      chart({ kind: 'categories', path: 'services' }),
      null,
      bar('Water', 1),
      undefined,
      fieldAt,
    );
    expect(several?.of[0]).toMatchObject({ operator: 'has', right: { value: 'Water' } });
    expect(
      recordsBehind(by, null, { ...bar('', 1), value: 7 }, { value: null, title: null, others: 4 }, fieldAt),
    ).toBeUndefined();
  });

  test('of two numbers has the bounds of its cell', () => {
    const where = recordsInCell(
      { kind: 'points', x: 'length', y: 'persons' },
      { count: 2, x: 7.7, y: 3, xs: [7.6, 7.8], ys: [3, 3] },
    );
    expect([7.5, 7.6, 7.8, 7.9].map((length) => finds(where, { length, persons: 3 }))).toEqual([
      false,
      true,
      true,
      false,
    ]);
  });
});

describe('a chart in words', () => {
  test.each([
    [{ kind: 'time', path: 'arrival' }, 'Number of Stays a week, by Arrival'],
    [
      { kind: 'time', path: 'arrival', step: 'month', measure: { of: 'sum', path: 'length' }, stacked: 'kind' },
      'Sum of Length a month, by Arrival, divided by Kind',
    ],
    [{ kind: 'categories', path: 'berth', measure: { of: 'average', path: 'persons' } }, 'Average of Persons by Berth'],
    [{ kind: 'points', x: 'length', y: 'persons' }, 'Persons against Length'],
  ])('%j', (chart, said) => {
    expect(chartWords(chartSchema.parse(chart), 'Stays', fieldAt)).toBe(said);
    expect(chartProblems(chartSchema.parse(chart), 'Stays', fieldAt)).toEqual([]);
  });

  test('says amounts as their field does, an average with its places, a missing number with a dash', () => {
    expect(amountWords(1_200, { of: 'count' }, fieldAt)).toBe('1,200');
    expect(amountWords(3.25, { of: 'average', path: 'persons' }, fieldAt)).toBe('3.25');
    expect(amountWords(12.5, { of: 'sum', path: 'length' }, fieldAt)).toBe('12.5');
    expect(amountWords(null, { of: 'count' }, fieldAt)).toBe('–');
    expect([
      axisWords(2.5, FIELDS[5]),
      axisWords(2, FIELDS[5]),
      axisWords(7.5, FIELDS[6]),
      axisWords(8, FIELDS[6]),
    ]).toEqual(['', '2', '7.5', '8']);
    expect(groupWords({ value: null, title: null, others: 12 }, 'berth', fieldAt)).toBe('12 others');
    expect(groupWords({ value: null, title: null }, 'berth', fieldAt)).toBe('Blank');
    expect(groupWords({ value: true, title: null }, 'waived', fieldAt)).toBe('Waived: yes');
  });

  test('says what is wrong with it, at its place', () => {
    const wrong = (chart: object) =>
      chartProblems(chartSchema.parse(chart), 'Stays', fieldAt).map((one) => [one.path, one.message]);
    expect(wrong({ kind: 'time', path: 'kind' })).toEqual([
      ['path', 'Kind is not a date. Choose a field that holds a date.'],
    ]);
    expect(wrong({ kind: 'categories', path: 'note' })).toEqual([
      ['path', 'Note has no bars of its own. Choose a field that holds one value, or choices.'],
    ]);
    expect(wrong({ kind: 'points', x: 'gone', y: 'berth' })).toEqual([
      ['x', 'gone is not a field of Stays any more. Choose another one.'],
      ['y', 'Berth is not a number. Choose a field that holds a number.'],
    ]);
  });
});
