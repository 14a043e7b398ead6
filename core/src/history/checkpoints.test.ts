import fc from 'fast-check';
import { expect, test } from 'vitest';
import { checkpointCuts, type LineSpan } from './checkpoints.ts';

/** Spans of a table's lines: each with ids after those of the one before, unless saves of both overlapped. */
const spans = fc
  .array(
    fc.record({
      added: fc.nat(20),
      changes: fc.nat(40),
      erased: fc.nat(3),
      overlaps: fc.boolean(),
    }),
    { maxLength: 40 },
  )
  .map((all): LineSpan[] => {
    let last = 0;
    return all.map(({ overlaps, ...counts }, n) => {
      const first = last + (overlaps ? -1 : 1);
      last = Math.max(last, first + counts.added + counts.changes + counts.erased);
      return { at: `2026-08-17 09:${String(n).padStart(2, '0')}:00+00`, first, last, ...counts };
    });
  });

test('checkpoints hold at most twice as many records as there are changes, and no fewer changes than asked for', () => {
  fc.assert(
    fc.property(spans, fc.integer({ min: 1, max: 60 }), (lines, least) => {
      let held = 0;
      const heldAt = new Map<string, number>();
      for (const span of lines) {
        held += span.added - span.erased;
        heldAt.set(span.at, held);
      }
      const cuts = checkpointCuts(lines, 0, least);
      const changes = lines.reduce((sum, span) => sum + span.changes, 0);
      expect(cuts.reduce((sum, cut) => sum + Math.max(0, heldAt.get(cut.at) as number), 0)).toBeLessThanOrEqual(
        2 * changes,
      );
      for (const cut of cuts) expect(cut.changes).toBeGreaterThanOrEqual(least);
    }),
  );
});

test('a cut parts lines by moment and by id alike, and comes as soon as it can', () => {
  fc.assert(
    fc.property(spans, fc.integer({ min: 1, max: 60 }), (lines, least) => {
      const cuts = checkpointCuts(lines, 0, least);
      const clean = (at: string): boolean => {
        const before = lines.filter((span) => span.at <= at);
        return lines.every((span) => span.at <= at || before.every((one) => one.last < span.first));
      };
      let [held, changes] = [0, 0];
      for (const span of lines) {
        held += span.added - span.erased;
        changes += span.changes;
        const cut = cuts.find((one) => one.at === span.at);
        expect(cut !== undefined).toBe(changes >= Math.max(least, held / 2) && clean(span.at));
        if (!cut) continue;
        expect(cut).toEqual({
          at: span.at,
          line: Math.max(...lines.filter((one) => one.at <= span.at).map((one) => one.last)),
          changes,
        });
        changes = 0;
      }
    }),
  );
});

test('what is known of the last checkpoint counts on', () => {
  const span = { at: '2026-08-17 09:00:00+00', first: 1, last: 60, added: 0, erased: 0, changes: 60 };
  expect(checkpointCuts([span], 121, 10)).toEqual([]);
  expect(checkpointCuts([span], 120, 10)).toEqual([{ at: span.at, line: 60, changes: 60 }]);
});
