import fc from 'fast-check';
import { expect, test } from 'vitest';
import { answerBars } from './answerBars.ts';

const SIZE = { width: 1_000, height: 100 };

test('a bar stands at its day, as high as its share of the highest', () => {
  const days = [
    { day: '2026-01-01', count: 1 },
    { day: '2026-04-10', count: 4 },
  ];
  const { bars, first, last, highest } = answerBars(days, SIZE);
  expect([first, last]).toEqual(['2026-01-01', '2026-04-10']);
  expect(bars.map((one) => [Math.round(one.x), one.height])).toEqual([
    [0, 25],
    [990, 100],
  ]);
  expect(highest).toMatchObject({ day: '2026-04-10', count: 4 });
});

test('every bar stands within the picture, whatever the days', () => {
  const day = fc.integer({ min: 0, max: 20_000 }).map((n) => new Date(n * 86_400_000).toISOString().slice(0, 10));
  const given = fc.uniqueArray(fc.record({ day, count: fc.integer({ min: 1, max: 1_000_000 }) }), {
    minLength: 1,
    selector: (one) => one.day,
  });
  fc.assert(
    fc.property(given, (days) => {
      const sorted = [...days].sort((a, b) => (a.day < b.day ? -1 : 1));
      for (const bar of answerBars(sorted, SIZE).bars) {
        expect(bar.x).toBeGreaterThanOrEqual(0);
        expect(bar.x).toBeLessThan(SIZE.width);
        expect(bar.height).toBeGreaterThan(0);
        expect(bar.height).toBeLessThanOrEqual(SIZE.height);
      }
    }),
  );
});
