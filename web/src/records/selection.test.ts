import fc from 'fast-check';
import { expect, test } from 'vitest';
import { ALL_SELECTED, countSelected, isSelected, NOTHING_SELECTED, withSelected } from './selection.ts';

test('whatever is taken in and out, each record is as it was last said, and the count agrees', () => {
  const step = fc.record({ ids: fc.array(fc.integer({ min: 1, max: 12 }), { maxLength: 6 }), on: fc.boolean() });
  fc.assert(
    fc.property(fc.boolean(), fc.array(step), (all, steps) => {
      const told = new Map(Array.from({ length: 12 }, (_, at) => [at + 1, all]));
      let selection = all ? ALL_SELECTED : NOTHING_SELECTED;
      for (const { ids, on } of steps) {
        selection = withSelected(selection, ids, on);
        for (const id of ids) told.set(id, on);
      }
      for (const [id, on] of told) expect(isSelected(selection, id)).toBe(on);
      expect(countSelected(selection, 12)).toBe([...told.values()].filter(Boolean).length);
    }),
  );
});
