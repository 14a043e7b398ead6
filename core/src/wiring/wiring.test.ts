import fc from 'fast-check';
import { expect, test } from 'vitest';
import { arrange, type Edge, type EdgeKind } from './index.ts';

const FIELDS = ['harbour', 'pontoon', 'berth', 'vessel', 'length', 'dues'];
const kinds = fc.constantFrom<EdgeKind>('narrows', 'fills', 'shows', 'checks', 'calculates');
const edges = fc.array(
  fc
    .tuple(kinds, fc.constantFrom(...FIELDS), fc.constantFrom(...FIELDS))
    .map(([kind, from, to]): Edge => ({ kind, from, to })),
  { maxLength: 12 },
);
const fields = fc.shuffledSubarray(FIELDS, { minLength: FIELDS.length });
/** The edges that move a value: a check reads, and a field that fills or narrows itself does nothing. */
const moving = (all: readonly Edge[]): Edge[] =>
  all.filter(({ kind, from, to }) => kind !== 'checks' && (from !== to || kind === 'shows' || kind === 'calculates'));

test('every field has one place, and every edge is found at the field that it leaves', () => {
  fc.assert(
    fc.property(fields, edges, (ids, all) => {
      const { order, rank, from } = arrange(ids, all);
      expect([...order].sort()).toEqual([...FIELDS].sort());
      expect(order.map((id) => rank.get(id))).toEqual([0, 1, 2, 3, 4, 5]);
      expect([...from.values()].flat()).toHaveLength(all.length);
      for (const [id, leaving] of from) expect(leaving).toEqual(all.filter((one) => one.from === id));
    }),
  );
});

test('a loop that is told is one: each field of it moves the next, and the last is the first', () => {
  fc.assert(
    fc.property(fields, edges, (ids, all) => {
      for (const loop of arrange(ids, all).loops) {
        expect(loop.length).toBeGreaterThan(1);
        expect(loop.at(-1)).toBe(loop[0]);
        for (let at = 1; at < loop.length; at++)
          expect(moving(all).some(({ from, to }) => from === loop[at - 1] && to === loop[at])).toBe(true);
      }
    }),
  );
});

test('where no loop is told there is none: every field comes after all that move it', () => {
  fc.assert(
    fc.property(fields, edges, (ids, all) => {
      const { loops, rank } = arrange(ids, all);
      const backward = moving(all).filter(({ from, to }) => (rank.get(from) ?? 0) >= (rank.get(to) ?? 0));
      expect(loops.length === 0).toBe(backward.length === 0);
    }),
    { numRuns: 500 },
  );
});

test('checks make no loop, and a field that shows or calculates itself does', () => {
  const checked: Edge[] = [
    { kind: 'checks', from: 'arrival', to: 'departure' },
    { kind: 'checks', from: 'departure', to: 'arrival' },
  ];
  expect(arrange(['arrival', 'departure'], checked).loops).toEqual([]);
  const itself = (kind: EdgeKind) => arrange(['dues'], [{ kind, from: 'dues', to: 'dues' }]).loops;
  expect([itself('shows'), itself('calculates'), itself('fills'), itself('narrows')]).toEqual([
    [['dues', 'dues']],
    [['dues', 'dues']],
    [],
    [],
  ]);
});

test('fields that nothing moves keep their place on the form', () => {
  expect(arrange(FIELDS, []).order).toEqual(FIELDS);
});
