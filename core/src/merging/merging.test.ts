import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { fieldOf, tableOf } from '../fixtures/tables.ts';
import {
  duplicatesProblems,
  groupsOf,
  matchModesOf,
  mergedValues,
  proposeDuplicates,
  proposeSources,
} from './index.ts';

const fields = [
  fieldOf('number', 'sequence', { settings: { prefix: 'V-', withYear: false, width: 4 } }),
  fieldOf('name', 'text'),
  fieldOf('registration', 'text', { unique: true }),
  fieldOf('length', 'decimal', { settings: { places: 1 } }),
  fieldOf('tags', 'choices', { settings: { choices: ['deep', 'fast', 'old'] } }),
  fieldOf('owner', 'link', { settings: { table: 'quay_owners' } }),
];
const table = tableOf('quay_vessels', fields, { title: 'name' });

describe('duplicates', () => {
  test('are groups of all that are alike through one another, each record in one group, whatever the order of the pairs', () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 1, max: 12 }), fc.integer({ min: 1, max: 12 })), { maxLength: 20 }),
        (drawn) => {
          const pairs = drawn.filter(([a, b]) => a !== b);
          const groups = groupsOf(pairs);
          expect(groups.flat()).toHaveLength(new Set(groups.flat()).size);
          for (const [a, b] of pairs) expect(groups.find((group) => group.includes(a))).toContain(b);
          expect(groupsOf([...pairs].reverse().map(([a, b]) => [b, a] as const))).toEqual(groups);
        },
      ),
    ));

  test('are looked for by what can be alike: texts in any way, other single values exactly, lists not', () => {
    expect(fields.map((field) => matchModesOf(field).length)).toEqual([3, 3, 3, 1, 0, 1]);
    expect(proposeDuplicates(table)).toEqual([{ field: 'name', how: 'near' }]);
    const by = [
      { field: 'gone', how: 'exact' },
      { field: 'tags', how: 'exact' },
      { field: 'length', how: 'near' },
    ] as const;
    expect(duplicatesProblems([...by], table).map((one) => one.message)).toEqual([
      'gone is not a field of quay_vessels. Choose another.',
      'tags holds several values: records are not compared by it. Choose another field.',
      'length can only be compared exactly.',
    ]);
  });
});

describe('a merge', () => {
  const records = [
    { id: 1, values: { name: 'Tystie', registration: 'GS-1', length: null, tags: ['deep', 'old'], owner: null } },
    { id: 2, values: { name: 'Tystey', registration: 'GS-2', length: 6, tags: ['fast', 'deep'], owner: 7 } },
  ];

  test('keeps what the one that stays has, and takes what it lacks; lists together', () => {
    const valuesFrom = proposeSources(fields, records, 1);
    expect(valuesFrom).toEqual({ name: 1, length: 2, tags: 'all', owner: 2 });
    expect(mergedValues(fields, records, { stays: 1, valuesFrom })).toEqual({
      length: 6,
      tags: ['deep', 'old', 'fast'],
      owner: 7,
    });
    expect(mergedValues(fields, records, { stays: 2, valuesFrom: { ...valuesFrom, name: 1 } })).toMatchObject({
      name: 'Tystie',
      tags: ['fast', 'deep', 'old'],
    });
  });

  test('never takes what must be different in each record, or is given by the system', () => {
    const valuesFrom = { number: 2, registration: 2, gone: 2, name: 'all' } as const;
    expect(mergedValues(fields, records, { stays: 1, valuesFrom })).toEqual({});
  });
});
