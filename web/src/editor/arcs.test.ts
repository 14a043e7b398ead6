import type { Edge } from '@fiche/core/wiring';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { placeArcs } from './Arcs.tsx';

const WIDTH = 90;
const edge = (from: string, to: string): Edge => ({ from, to, kind: 'narrows' }) as Edge;
const heights = new Map(Array.from({ length: 12 }, (_one, n) => [`f${n}`, 14 + n * 25]));

test('each arc that can be drawn is, shorter ones inside longer ones, within the width', () => {
  const name = fc.integer({ min: 0, max: 14 }).map((n) => `f${n}`);
  fc.assert(
    fc.property(fc.array(fc.tuple(name, name), { maxLength: 12 }), (pairs) => {
      const placed = placeArcs(
        pairs.map(([from, to]) => edge(from, to)),
        heights,
        WIDTH,
      );
      const drawn = pairs.filter(([from, to]) => from !== to && heights.has(from) && heights.has(to));
      expect(placed).toHaveLength(drawn.length);
      const byLength = [...placed].sort((a, b) => Math.abs(a.to - a.from) - Math.abs(b.to - b.from));
      for (const [n, one] of byLength.entries()) {
        expect(one.reach).toBeLessThanOrEqual(WIDTH - 14);
        expect(one.reach).toBeGreaterThanOrEqual(byLength[n - 1]?.reach ?? 0);
      }
    }),
  );
});

test('letters of arcs with the same middle stand apart', () => {
  const [a, b, c] = placeArcs([edge('f1', 'f3'), edge('f3', 'f1'), edge('f1', 'f3')], heights, WIDTH);
  const middles = [a, b, c].map((one) => one?.middle ?? 0).sort((x, y) => x - y);
  expect((middles[1] ?? 0) - (middles[0] ?? 0)).toBeGreaterThanOrEqual(8);
  expect((middles[2] ?? 0) - (middles[1] ?? 0)).toBeGreaterThanOrEqual(8);
});
