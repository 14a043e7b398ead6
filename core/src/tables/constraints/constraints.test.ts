import { describe, expect, test } from 'vitest';
import { newFieldSchema, type TableDefinition } from '../index.ts';
import { constraintMisfit } from './misfit.ts';
import {
  type Constraint,
  constraintFields,
  constraintKind,
  constraintKinds,
  constraintSchema,
  constraintWords,
} from './registry.ts';

const message = 'Choose another.';
const RULES: readonly Constraint[] = [
  { kind: 'unique', id: 'same', fields: ['berth', 'note'], message },
  { kind: 'noOverlap', id: 'taken', same: ['berth'], from: 'arrival', to: 'departure', message },
  { kind: 'atMost', id: 'full', most: 4, same: ['berth'], from: 'arrival', to: 'departure', message },
];
const field = (id: string, label: string, type: string) => ({ ...newFieldSchema.parse({ label, type }), id });
const table = {
  label: 'Stays',
  fields: [
    field('berth', 'Berth', 'text'),
    field('note', 'Note', 'text'),
    field('arrival', 'Arrival', 'dateTime'),
    field('departure', 'Departure', 'dateTime'),
    field('day', 'Day', 'date'),
    field('length', 'Length', 'decimal'),
    field('remarks', 'Remarks', 'longText'),
  ],
} as unknown as TableDefinition;
const labelOf = (id: string): string => table.fields.find((one) => one.id === id)?.label ?? id;

describe.each(RULES.map((rule) => [rule.kind, rule] as const))('a rule of kind %s', (kind, rule) => {
  test('is written down and read again as it is', () => {
    expect(constraintSchema.parse(JSON.parse(JSON.stringify(rule)))).toEqual(rule);
    expect(constraintSchema.safeParse({ ...rule, extra: 1 }).success).toBe(false);
    expect(constraintSchema.safeParse({ ...rule, message: ' ' }).success).toBe(false);
  });

  test('has a slot in its sentence for every member but its name and its message', () => {
    const slots = constraintKind(kind).sentence.flatMap((part) => (typeof part === 'string' ? [] : [part.sets]));
    const members = Object.keys(rule).filter((key) => !['kind', 'id', 'message'].includes(key));
    expect(slots.toSorted()).toEqual(members.toSorted());
    expect(typeof constraintKind(kind).sentence[0]).toBe('string');
  });

  test('fits its table; a field that has gone, or that cannot be compared, is named', () => {
    expect(constraintMisfit(table, rule)).toBeUndefined();
    for (const id of constraintFields(rule)) {
      const without = { ...table, fields: table.fields.filter((one) => one.id !== id) } as TableDefinition;
      expect(constraintMisfit(without, rule)).toBe(`${id} is not a field of Stays.`);
    }
    const long = JSON.parse(JSON.stringify(rule).replace('"berth"', '"remarks"')) as Constraint;
    expect(constraintMisfit(table, long)).toBe('Remarks is a long text and cannot be compared this way.');
  });
});

test('every kind is tried here', () => {
  expect(RULES.map((rule) => rule.kind)).toEqual(constraintKinds.map((one) => one.kind));
});

test.each<[Constraint, string]>([
  [RULES[0] as Constraint, 'No two records have the same Berth and Note'],
  [RULES[1] as Constraint, 'No two records with the same Berth overlap from Arrival to Departure'],
  [RULES[2] as Constraint, 'At most 4 records with the same Berth fall on one day, from Arrival to Departure'],
  [
    { kind: 'atMost', id: 'one', most: 1, same: [], from: 'day', to: null, message },
    'At most 1 record falls on one day, by Day',
  ],
  [
    { kind: 'atMost', id: 'many', most: 12_000, same: ['berth', 'note'], from: 'day', to: null, message },
    'At most 12,000 records with the same Berth and Note fall on one day, by Day',
  ],
  [
    { kind: 'noOverlap', id: 'all', same: [], from: 'arrival', to: 'departure', message },
    'No two records overlap from Arrival to Departure',
  ],
])('%o reads as a sentence', (rule, words) => {
  expect(constraintWords(rule, labelOf)).toBe(words);
});

test.each<[Constraint, string]>([
  [{ kind: 'unique', id: 'same', fields: ['berth', 'berth'], message }, 'A field is named twice.'],
  [
    { kind: 'noOverlap', id: 'o', same: [], from: 'berth', to: 'note', message },
    'A range is made of two dates, two date-times or two numbers.',
  ],
  [
    { kind: 'noOverlap', id: 'o', same: [], from: 'day', to: 'arrival', message },
    'The two ends of a range must be of one kind.',
  ],
  [
    { kind: 'atMost', id: 'a', most: 2, same: [], from: 'length', to: null, message },
    'Days are counted by a date or a date and time.',
  ],
  [
    { kind: 'atMost', id: 'a', most: 2, same: [], from: 'day', to: 'day', message },
    'A range needs two different fields.',
  ],
])('%o cannot be, and says why', (rule, words) => {
  expect(constraintMisfit(table, rule)).toBe(words);
});

test.each([0, -1, 1.5, 100_001, '2', null])('at most %s records is no rule', (most) => {
  expect(constraintSchema.safeParse({ ...RULES[2], most }).success).toBe(false);
});
