import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { all, is } from '../conditions/index.ts';
import { column, form, stayForm, tableOf, tables } from '../entry/fixtures/harbour.ts';
import { type Fill, misfit, proposePairs } from '../fills/index.ts';
import { prove } from '../proof/index.ts';
import { findField, nameFrom, type TableDefinition } from '../tables/index.ts';
import { arrange, type Edge } from '../wiring/index.ts';
import {
  type DefinedForm,
  formDefinitionSchema,
  formFields,
  generateForm,
  isField,
  type PlacedField,
} from './index.ts';

const stays = tables.get('stays') as TableDefinition;
const changed = (id: string, own: Partial<PlacedField>): DefinedForm => {
  const made = generateForm(stays);
  return {
    ...made,
    sections: made.sections.map((section) => ({
      ...section,
      items: section.items.map((one) => (isField(one) && one.field === id ? { ...one, ...own } : one)),
    })),
  };
};
const narrowing = (...where: Parameters<typeof all>) => ({ where: all(...where), sort: null, show: [], only: false });
const found = (definition: DefinedForm): string[] =>
  prove(definition, tables, '2026-08-17T09:00')
    .filter((finding) => finding.weight === 'must')
    .map((problem) => `${problem.path} ${problem.rule}`);

describe('a form from a table in one step', () => {
  test('has its fields in order, can be published at once, and survives being stored', () => {
    const made = generateForm(stays);
    expect(formFields(made).map((one) => one.field)).toEqual(stays.fields.map((field) => field.id));
    expect(found(made)).toEqual([]);
    expect(formDefinitionSchema.parse(JSON.parse(JSON.stringify(made)))).toEqual(made);
  });

  test('is read as it was saved before its fields had a kind', () => {
    const made = generateForm(stays);
    const stored = JSON.stringify(made).replaceAll('"kind":"field",', '');
    expect(stored).not.toBe(JSON.stringify(made));
    expect(formDefinitionSchema.parse(JSON.parse(stored))).toEqual(made);
  });

  test('shows a sequence number and never asks for it', () => {
    const numbered = tableOf('numbered', { number: ['sequence', { prefix: 'S-' }], name: ['text'] });
    expect(formFields(generateForm(numbered)).map((one) => one.readOnly)).toEqual([true, false]);
  });
});

describe('what keeps a form from being published', () => {
  const fill = (...pairs: Fill['pairs']): Fill => ({
    table: 'vessels',
    key: 'registration',
    whenNone: 'message',
    pairs,
  });

  test.each([
    [
      'a column that has gone',
      changed('pontoon', { narrowing: narrowing(is(column('colour'), form('harbour'))) }),
      ['pontoon narrowing'],
    ],
    [
      'sides that can never be equal',
      changed('berth', { narrowing: narrowing(is(column('longest'), form('phone'))) }),
      ['berth narrowing'],
    ],
    [
      'a number filled into text',
      changed('registration', { fill: fill({ from: 'length', to: 'phone', policy: 'keep' }) }),
      ['registration fill'],
    ],
    [
      'the record itself into another table’s link',
      changed('registration', { fill: fill({ from: 'self', to: 'berth', policy: 'keep' }) }),
      ['registration fill'],
    ],
    [
      'a rule over a field that has gone',
      {
        ...generateForm(stays),
        rules: [
          {
            id: 'r',
            kind: 'stop' as const,
            when: null,
            examples: [],
            at: 'colour',
            message: 'No colour.',
            must: { kind: 'compare' as const, left: form('note'), operator: 'is' as const, right: form('phone') },
          },
        ],
      },
      ['colour rule'],
    ],
    ['no fields', { ...generateForm(stays), sections: [] }, ['sections empty', 'harbour required']],
  ])('%s', (_what, definition, expected) => {
    expect(found(definition)).toEqual(expected);
  });

  test('a parent that is not on the form, named by its label', () => {
    const narrowed = changed('pontoon', { narrowing: narrowing(is(column('harbour'), form('harbour'))) });
    const without = {
      ...narrowed,
      sections: narrowed.sections.map((section) => ({
        ...section,
        items: section.items.filter((one) => !isField(one) || one.field !== 'harbour'),
      })),
    };
    expect(found(without)).toEqual(['pontoon narrowing', 'harbour required']);
    expect(prove(without, tables, '2026-08-17T09:00')[0]?.message).toContain(
      'narrowed by harbour, which is not on the form',
    );
  });

  test('fields that fill one another in a circle, named along the circle', () => {
    const first = changed('registration', { fill: fill({ from: 'name', to: 'note', policy: 'replace' }) });
    const circle: DefinedForm = {
      ...first,
      sections: first.sections.map((section) => ({
        ...section,
        items: section.items.map((one) =>
          isField(one) && one.field === 'note'
            ? {
                ...one,
                fill: { ...fill({ from: 'registration', to: 'registration', policy: 'replace' }), key: 'name' },
              }
            : one,
        ),
      })),
    };
    const [loop] = prove(circle, tables, '2026-08-17T09:00');
    expect(loop?.rule).toBe('loop');
    expect(loop?.message).toMatch(/note → registration → note|registration → note → registration/);
  });
});

test('the wiring of a form names what narrows, fills and checks what', () => {
  const edges = stayForm().wiring.edges.map((edge) => `${edge.from} ${edge.kind} ${edge.to}`);
  expect(edges).toEqual([
    'harbour narrows pontoon',
    'pontoon narrows berth',
    'registration fills vessel',
    'registration fills length',
    'registration fills phone',
    'arrival checks departure',
    'berth checks length',
  ]);
});

test('in a form without circles every field comes after all that narrow or fill it', () => {
  const ids = ['a', 'b', 'c', 'd', 'e', 'f'];
  const pair = fc.tuple(fc.nat(5), fc.nat(5)).filter(([a, b]) => a < b);
  fc.assert(
    fc.property(fc.array(pair), fc.shuffledSubarray(ids, { minLength: 6 }), (pairs, fields) => {
      const edges: Edge[] = pairs.map(([a, b], n) => ({
        kind: n % 2 ? 'fills' : 'narrows',
        from: ids[a] ?? '',
        to: ids[b] ?? '',
      }));
      const { order, loops } = arrange(fields, edges);
      expect(loops).toEqual([]);
      expect([...order].sort()).toEqual(ids);
      for (const { from, to } of edges) expect(order.indexOf(from)).toBeLessThan(order.indexOf(to));
    }),
  );
});

describe('fills', () => {
  test('are proposed for equal labels and fitting types only', () => {
    const targets = stays.fields.filter((field) => ['registration', 'length', 'phone', 'note'].includes(field.id));
    expect(proposePairs(tables, 'vessels', targets)).toEqual([
      { from: 'registration', to: 'registration', policy: 'replace' },
      { from: 'length', to: 'length', policy: 'replace' },
    ]);
  });

  test('say why a pair cannot fit', () => {
    const length = findField(stays, 'length');
    expect(length && misfit(tables, 'vessels', 'name', length)).toBe(
      'name is a text and cannot fill length, a decimal.',
    );
    expect(length && misfit(tables, 'vessels', 'length', length)).toBeUndefined();
  });
});

test('a column name is chosen once, from any label, and never twice', () => {
  fc.assert(
    fc.property(fc.array(fc.string({ unit: 'grapheme' }), { maxLength: 12 }), (labels) => {
      const taken = new Set<string>();
      for (const label of labels) {
        const name = nameFrom(label, taken, 'field');
        expect(name).toMatch(/^[a-z][a-z0-9_]{0,58}$/);
        expect(taken.has(name)).toBe(false);
        taken.add(name);
      }
    }),
  );
  expect(nameFrom('Owner’s phone', new Set(), 'field')).toBe('owners_phone');
  expect(nameFrom('Tiefgang (größter)', new Set(), 'field')).toBe('tiefgang_gro_ter');
});
