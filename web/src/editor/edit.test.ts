import { type DefinedForm, itemKey } from '@fiche/core/forms';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { addItem, addSection, freshItemId, itemKeys, moveBefore, removeItem, removeSection, stepItem } from './edit.ts';

/** A form of a few sections with headings in them. */
const form: fc.Arbitrary<DefinedForm> = fc
  .array(fc.integer({ min: 0, max: 4 }), { minLength: 1, maxLength: 4 })
  .map((counts) => ({
    label: 'Stay',
    table: 'quay_stays',
    may: { add: true, change: true, archive: true },
    opensOn: 'blank' as const,
    view: null,
    showStamp: true,
    rules: [],
    page: null,
    sections: counts.map((count, s) => ({
      id: `s${s + 1}`,
      label: '',
      columns: 3,
      shownWhen: null,
      items: Array.from({ length: count }, (_one, n) => ({ kind: 'heading' as const, id: `h${s}_${n}`, text: 'Stay' })),
    })),
  }));
const withItem = form.filter((one) => itemKeys(one).length > 0);
const pick = (keys: readonly string[], n: number): string => keys[n % keys.length] ?? '';
const sorted = (one: DefinedForm): string[] => itemKeys(one).sort();

test('moving by a step and back again changes nothing; at the edge of the form it moves nothing', () => {
  fc.assert(
    fc.property(withItem, fc.nat(20), fc.constantFrom(1 as const, -1 as const), (one, n, step) => {
      const key = pick(itemKeys(one), n);
      const moved = stepItem(one, key, step);
      expect(sorted(moved)).toEqual(sorted(one));
      if (moved === one) {
        // The first item of the first section, or the last one of the last.
        const edge = step > 0 ? one.sections.at(-1) : one.sections[0];
        expect(itemKey((step > 0 ? edge?.items.at(-1) : edge?.items[0]) ?? { kind: 'card', id: '', of: '' })).toBe(key);
      } else expect(stepItem(moved, key, step > 0 ? -1 : 1)).toEqual(one);
    }),
  );
});

test('an item dragged to another stands at its place, and no item is lost or doubled', () => {
  fc.assert(
    fc.property(withItem, fc.nat(20), fc.nat(20), (one, a, b) => {
      const [key, target] = [pick(itemKeys(one), a), pick(itemKeys(one), b)];
      const moved = moveBefore(one, key, target);
      expect(sorted(moved)).toEqual(sorted(one));
      if (key !== target) expect(itemKeys(moved).indexOf(key)).toBe(itemKeys(one).indexOf(target));
    }),
  );
});

test('what is added has an id of its own and stands after what was selected; removed, the form is as before', () => {
  fc.assert(
    fc.property(withItem, fc.nat(20), (one, n) => {
      const after = pick(itemKeys(one), n);
      const id = freshItemId(one, 'h');
      const added = addItem(one, { kind: 'heading', id, text: 'New' }, after);
      const keys = itemKeys(added);
      expect(new Set(keys).size).toBe(keys.length);
      expect(keys[keys.indexOf(after) + 1]).toBe(`#${id}`);
      expect(removeItem(added, `#${id}`)).toEqual(one);
    }),
  );
});

test('a removed section leaves its items to a neighbour, in their order; the last section stays', () => {
  fc.assert(
    fc.property(form, fc.nat(5), (one, n) => {
      const section = one.sections[n % one.sections.length];
      const removed = removeSection(one, section?.id ?? '');
      expect(itemKeys(removed)).toEqual(itemKeys(one));
      expect(removed.sections).toHaveLength(Math.max(1, one.sections.length - 1));
      const more = addSection(removed, 'New');
      expect(new Set(more.sections.map((each) => each.id)).size).toBe(more.sections.length);
    }),
  );
});
