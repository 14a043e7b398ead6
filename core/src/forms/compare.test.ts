import fc from 'fast-check';
import { expect, test } from 'vitest';
import { all, is } from '../conditions/index.ts';
import { column, form, stayForm, tables } from '../entry/fixtures/harbour.ts';
import { type DefinedForm, differences, isField, type PlacedField } from './index.ts';

const before = stayForm().definition;
const words = (after: DefinedForm): string[] => differences(before, after, tables).map((one) => one.words);
const change = (id: string, own: Partial<PlacedField> | null): DefinedForm => ({
  ...before,
  sections: before.sections.map((section) => ({
    ...section,
    items: section.items.flatMap((item) =>
      isField(item) && item.field === id ? (own === null ? [] : [{ ...item, ...own }]) : [item],
    ),
  })),
});

const CHANGES: [DefinedForm, string][] = [
  [change('departure', { required: true }), 'departure became required'],
  [
    change('berth', {
      narrowing: {
        where: all(is(column('pontoon'), form('pontoon')), {
          kind: 'compare',
          left: column('longest'),
          operator: 'atLeast',
          right: form('length'),
        }),
        sort: null,
        show: [],
        only: false,
      },
    }),
    'berth is now also narrowed: longest is at least this form’s length',
  ],
  [change('pontoon', { narrowing: null }), 'pontoon is no longer narrowed: harbour is this form’s harbour'],
  [change('phone', null), 'phone was taken off'],
  [change('note', { label: 'Remarks' }), 'note is now called Remarks'],
  [
    change('note', { shownWhen: all(is(form('phone'), { kind: 'constant', value: 'x' })) }),
    'note is now shown when phone is x',
  ],
  [change('note', { calculation: 'phone' }), 'note is now calculated as phone'],
  [change('registration', { fill: null }), 'registration no longer fills vessel'],
  [{ ...before, rules: before.rules.slice(1) }, 'Rule removed: “Departure must be after arrival.”'],
  [
    {
      ...before,
      rules: [
        ...before.rules,
        {
          id: 'short',
          kind: 'ask',
          when: all(is(form('phone'), { kind: 'constant', value: 'x' })),
          must: { kind: 'compare', left: form('length'), operator: 'atMost', right: { kind: 'constant', value: 6 } },
          at: 'length',
          message: 'Is it that long?',
          examples: [],
        },
      ],
    },
    'New rule: Ask why, when phone is x, unless length is at most 6.0: “Is it that long?”',
  ],
  [{ ...before, may: { ...before.may, archive: false } }, 'It no longer may archive records'],
];

test.each(CHANGES)('%#: a change reads as a sentence', (after, expected) => {
  expect(words(after)).toContain(expected);
});

test('nothing differs from itself, and every one of the changes is seen from the other side, too', () => {
  expect(words(before)).toEqual([]);
  fc.assert(
    fc.property(fc.constantFrom(...CHANGES), ([after]) => {
      expect(differences(after, before, tables).length).toBeGreaterThan(0);
    }),
  );
});
