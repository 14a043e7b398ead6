import fc from 'fast-check';
import { expect, test } from 'vitest';
import { barsOf, OTHERS } from './timelineBars.ts';

test('every save stands in one bar, above those of the people before it', () => {
  const days = ['2026-08-01', '2026-08-02', '2026-08-05'];
  const count = fc.record({
    begin: fc.constantFrom(...days).map((day) => `${day}T00:00`),
    account: fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f', 'g', 'h'),
    count: fc.integer({ min: 1, max: 50 }),
  });
  const counts = fc.uniqueArray(count, { selector: ({ begin, account }) => `${begin} ${account}`, maxLength: 20 });
  fc.assert(
    fc.property(counts, (some) => {
      const { bars, accounts } = barsOf({
        from: '2026-08-01',
        to: '2026-08-06',
        step: 'day',
        counts: some,
        unusual: [],
      });
      expect(bars.map((bar) => bar.begin.slice(8, 10))).toEqual(['01', '02', '03', '04', '05', '06']);
      expect(accounts.length).toBeLessThanOrEqual(6);
      for (const bar of bars) {
        expect(bar.total).toBe(some.filter((one) => one.begin === bar.begin).reduce((n, one) => n + one.count, 0));
        let top = 0;
        for (const part of bar.parts) {
          expect(part.from).toBe(top);
          top += part.count;
        }
        expect(top).toBe(bar.total);
      }
    }),
  );
});

test('weeks begin on Monday, and people with few saves are drawn together', () => {
  const accounts = ['a', 'b', 'c', 'd', 'e', 'f', 'g'];
  const counts = accounts.map((account, at) => ({ begin: '2026-08-03T00:00', account, count: 10 - at }));
  const { bars, accounts: named } = barsOf({ from: '2026-08-05', to: '2026-08-12', step: 'week', counts, unusual: [] });
  expect(bars.map((bar) => bar.begin)).toEqual(['2026-08-03T00:00', '2026-08-10T00:00']);
  expect(named).toEqual(['a', 'b', 'c', 'd', 'e', OTHERS]);
  expect(bars[0]?.parts.at(-1)).toEqual({ account: OTHERS, from: 40, count: 9 });
});
