import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Value } from '../fields/index.ts';
import {
  all,
  type Comparison,
  type Condition,
  conditionSchema,
  dayFrom,
  dayWords,
  describeCondition,
  EVERYTHING,
  type Group,
  holds,
  is,
  judge,
  mapOperands,
  type Operand,
  type Operator,
  operandsOf,
  operatorsFor,
  operatorWords,
  otherSide,
  pathsOf,
  questionsOf,
  type Reader,
  withAnswers,
} from './index.ts';

const column = (path: string): Operand => ({ kind: 'column', path });
const constant = (value: string | number | boolean): Operand => ({ kind: 'constant', value });
const group = (match: Group['match'], ...of: Condition[]): Group => ({ kind: 'group', match, of });

/** Columns of lengths and of names, so that both sides of a comparison are of one family. */
const LENGTHS = ['length', 'berth.longest', 'draught'];
const NAMES = ['name', 'owner.name'];
const operand = (paths: readonly string[], constants: fc.Arbitrary<string | number>): fc.Arbitrary<Operand> =>
  fc.oneof(fc.constantFrom(...paths).map(column), constants.map(constant));
const ORDERED = ['is', 'isNot', 'less', 'atMost', 'more', 'atLeast'] as const;
const compared = (side: fc.Arbitrary<Operand>): fc.Arbitrary<Comparison> =>
  fc
    .tuple(side, fc.constantFrom(...ORDERED), side)
    .map(([left, operator, right]) => ({ kind: 'compare', left, operator, right }));
const lengths = compared(operand(LENGTHS, fc.integer({ min: 0, max: 4 })));
const names = compared(operand(NAMES, fc.constantFrom('Petrel', 'Tern')));
const blankness: fc.Arbitrary<Comparison> = fc
  .tuple(fc.constantFrom(...LENGTHS, ...NAMES), fc.constantFrom('isBlank' as const, 'isNotBlank' as const))
  .map(([path, operator]) => ({ kind: 'compare', left: column(path), operator }));

/** Trees of comparisons, up to three levels deep. */
const treesOf = (leaf: fc.Arbitrary<Comparison>): fc.Arbitrary<Condition> =>
  fc.letrec<{ tree: Condition }>((tie) => ({
    tree: fc.oneof(
      { maxDepth: 3 },
      leaf,
      fc
        .tuple(fc.constantFrom('all', 'any', 'none'), fc.array(tie('tree'), { maxLength: 3 }))
        .map(([match, of]): Condition => ({ kind: 'group', match: match as Group['match'], of })),
    ),
  })).tree;
const trees = treesOf(fc.oneof(lengths, names, blankness));
const decided = treesOf(fc.oneof(lengths, names));

const length = fc.integer({ min: 0, max: 4 });
const name = fc.constantFrom('Petrel', 'Tern', 'Ärla');
/** Records with a value in each column, or with some blank. */
const recordsOf = (some: 'some blank' | 'none blank'): fc.Arbitrary<Record<string, Value>> => {
  const value = (one: fc.Arbitrary<Value>) => (some === 'some blank' ? fc.option(one, { nil: null, freq: 3 }) : one);
  return fc.record(
    Object.fromEntries([
      ...LENGTHS.map((path) => [path, value(length)] as const),
      ...NAMES.map((path) => [path, value(name)] as const),
    ]),
  );
};
const records = recordsOf('some blank');
const readerOf =
  (record: Readonly<Record<string, Value>>): Reader =>
  (one) =>
    one.kind === 'constant' ? one.value : 'path' in one ? (record[one.path] ?? null) : null;

describe('a condition', () => {
  test('of nothing holds under all and none, and not under any', () => {
    expect(['all', 'any', 'none'].map((match) => holds(group(match as 'all'), () => null))).toEqual([
      true,
      false,
      true,
    ]);
    expect(holds(EVERYTHING, () => null)).toBe(true);
  });

  test('none is the plain opposite of any, and all holds where none of the opposites does', () => {
    fc.assert(
      fc.property(fc.array(trees, { maxLength: 4 }), records, (of, record) => {
        const read = readerOf(record);
        expect(holds(group('none', ...of), read)).toBe(!holds(group('any', ...of), read));
        const opposites = of.map((one) => group('none', one));
        expect(holds(group('all', ...of), read)).toBe(holds(group('none', ...opposites), read));
      }),
    );
  });

  test('with a blank side does not hold, whatever its operator; with two sides that are there one order does', () => {
    fc.assert(
      fc.property(fc.oneof(lengths, names), records, (comparison, record) => {
        const read = readerOf(record);
        const told = (operator: Operator): boolean => holds({ ...comparison, operator } as Comparison, read);
        const blank = operandsOf(comparison).some((side) => read(side) === null);
        if (blank) expect(ORDERED.filter(told)).toEqual([]);
        else {
          expect(['less', 'is', 'more'].filter((one) => told(one as Operator))).toHaveLength(1);
          expect(told('isNot')).toBe(!told('is'));
          expect(told('atMost')).toBe(!told('more'));
          expect(told('atLeast')).toBe(!told('less'));
        }
      }),
    );
  });

  test('asks about several values by what they have', () => {
    const tags = (value: Value) => (one: Operand) => (one.kind === 'column' ? value : 'wifi');
    const has = (operator: 'has' | 'hasNot'): Condition => ({
      kind: 'compare',
      left: column('services'),
      operator,
      right: constant('wifi'),
    });
    expect([holds(has('has'), tags(['wifi', 'fuel'])), holds(has('hasNot'), tags(['wifi', 'fuel']))]).toEqual([
      true,
      false,
    ]);
    expect([holds(has('has'), tags(['fuel'])), holds(has('hasNot'), tags(['fuel']))]).toEqual([false, true]);
    // Blank has nothing to say, and one value has no others.
    expect([holds(has('hasNot'), tags(null)), holds(has('hasNot'), tags('fuel'))]).toEqual([false, false]);
  });
});

describe('a verdict', () => {
  test('is that of holds where nothing that is read is blank', () => {
    fc.assert(
      fc.property(trees, recordsOf('none blank'), (tree, record) => {
        expect(judge(tree, readerOf(record))).toBe(holds(tree, readerOf(record)));
      }),
    );
  });

  test('that is given while values are blank stays, whatever is entered for them', () => {
    fc.assert(
      fc.property(decided, records, records, (tree, record, entered) => {
        const early = judge(tree, readerOf(record));
        if (early === undefined) return;
        const completed = Object.fromEntries(
          Object.entries(record).map(([path, value]) => [path, value ?? entered[path] ?? null]),
        );
        expect(judge(tree, readerOf(completed))).toBe(early);
      }),
      { numRuns: 500 },
    );
  });

  test('waits only for a value that is blank', () => {
    fc.assert(
      fc.property(trees, records, (tree, record) => {
        if (judge(tree, readerOf(record)) !== undefined) return;
        expect(operandsOf(tree).some((one) => readerOf(record)(one) === null)).toBe(true);
      }),
    );
  });
});

describe('the day that a condition means', () => {
  test('is so many days away, over months and years', () => {
    const today = (days: number, of: 'date' | 'dateTime' = 'date') =>
      dayFrom('2026-02-27T23:59', { kind: 'today', days, of });
    expect([today(0), today(2), today(-58), today(307)]).toEqual([
      '2026-02-27',
      '2026-03-01',
      '2025-12-31',
      '2026-12-31',
    ]);
    expect(today(1, 'dateTime')).toBe('2026-02-28T00:00');
  });

  test('goes back by as many days as it went', () => {
    const days = fc.integer({ min: -36_500, max: 36_500 });
    fc.assert(
      fc.property(days, (away) => {
        const there = dayFrom('2026-08-17T10:00', { kind: 'today', days: away, of: 'date' });
        expect(dayFrom(`${there}T00:00`, { kind: 'today', days: -away, of: 'date' })).toBe('2026-08-17');
      }),
    );
  });

  test('reads as people say it', () => {
    expect([0, 1, 14, -1, -3].map(dayWords)).toEqual(['today', 'in 1 day', 'in 14 days', '1 day ago', '3 days ago']);
  });
});

describe('the tree', () => {
  test('is stored and read back the same', () => {
    fc.assert(
      fc.property(trees, (tree) => {
        expect(conditionSchema.parse(JSON.parse(JSON.stringify(tree)))).toEqual(tree);
      }),
    );
  });

  test('refuses an operator without its other side, a path that is none, and more conditions than anybody reads', () => {
    const read = (json: unknown): boolean => conditionSchema.safeParse(json).success;
    expect(read({ kind: 'compare', left: column('name'), operator: 'is' })).toBe(false);
    expect(read({ kind: 'compare', left: column('name'), operator: 'isBlank', right: constant('x') })).toBe(false);
    for (const path of ['Name', 'name"', 'a.b.c.d.e', 'owner.', '1st', "name' OR TRUE"])
      expect(read(is({ kind: 'column', path }, constant('x'))), path).toBe(false);
    const many = Array.from({ length: 51 }, () => is(column('name'), constant('x')));
    expect([read(all(...many.slice(1))), read(all(...many))]).toEqual([true, false]);
  });

  test('keeps its shape when its operands are changed, and tells each of them once', () => {
    fc.assert(
      fc.property(trees, (tree) => {
        expect(mapOperands(tree, (one) => one)).toEqual(tree);
        const moved = mapOperands(tree, (one) => (one.kind === 'column' ? { kind: 'form', path: one.path } : one));
        expect(pathsOf(moved, 'form')).toEqual(pathsOf(tree, 'column'));
        expect(pathsOf(moved, 'column')).toEqual([]);
        expect(operandsOf(moved)).toHaveLength(operandsOf(tree).length);
      }),
    );
  });
});

describe('what a filter asks each time', () => {
  const asked = (path: string): Comparison => is(column(path), { kind: 'asked' });
  /** A filter of the given paths, some in a group of their own. */
  const filters = fc
    .array(fc.tuple(fc.constantFrom(...LENGTHS, ...NAMES), fc.boolean(), fc.boolean()), { maxLength: 6 })
    .map((parts) =>
      all(
        ...parts.map(([path, asks, within]): Condition => {
          const one = asks ? asked(path) : is(column(path), constant(1));
          return within ? group('any', one) : one;
        }),
      ),
    );

  test('is answered in its order; without an answer the condition falls away', () => {
    const filter = all(
      asked('harbour'),
      group('any', asked('owner'), asked('kind')),
      is(column('open'), constant(true)),
    );
    expect(questionsOf(filter).map((one) => one.path)).toEqual(['harbour', 'owner', 'kind']);
    expect(withAnswers(filter, [7, null, 'Yacht'])).toEqual(
      all(
        is(column('harbour'), constant(7)),
        group('any', is(column('kind'), constant('Yacht'))),
        is(column('open'), constant(true)),
      ),
    );
    // A group whose every question is left open finds all, not nothing.
    expect(withAnswers(filter, [])).toEqual(all(is(column('open'), constant(true))));
  });

  test('is nothing any more once it is answered, and what was not asked stays', () => {
    fc.assert(
      fc.property(filters, fc.array(fc.option(fc.integer()), { maxLength: 6 }), (filter, answers) => {
        const answered = withAnswers(filter, answers);
        expect(questionsOf(answered)).toEqual([]);
        const given = questionsOf(filter).filter((_one, at) => (answers[at] ?? null) !== null).length;
        const plain = operandsOf(filter).filter((one) => one.kind === 'constant').length;
        expect(operandsOf(answered).filter((one) => one.kind === 'constant')).toHaveLength(plain + given);
      }),
    );
  });
});

describe('in words', () => {
  const sides = {
    nameOf: (one: Operand) => ('path' in one ? one.path : one.kind),
    familyOf: (one: Operand) => (one.kind === 'column' && one.path === 'arrival' ? 'date' : 'text') as 'date' | 'text',
    show: (value: Value) => String(value),
  };
  const words = (condition: Condition): string => describeCondition(condition, sides);

  test('dates are before and after, others less and more', () => {
    const before = (path: string, right: Operand): Comparison => ({
      kind: 'compare',
      left: column(path),
      operator: 'less',
      right,
    });
    expect(words(before('arrival', { kind: 'today', days: 7, of: 'date' }))).toBe('arrival is before in 7 days');
    expect(words(before('length', constant(6)))).toBe('length is less than 6');
  });

  test('an any group beside others stands in brackets, and nothing is no words', () => {
    const [a, b, c] = ['a', 'b', 'c'].map((path) => is(column(path), constant('x'))) as [
      Comparison,
      Comparison,
      Comparison,
    ];
    expect(words(all(a, group('any', b, c)))).toBe('a is x and (b is x or c is x)');
    expect(words(group('any', a, b))).toBe('a is x or b is x');
    expect(words(all(group('any', a, b)))).toBe('a is x or b is x');
    expect(words(group('none', a, b))).toBe('none of these: a is x; b is x');
    expect(words(all(EVERYTHING, a, group('none')))).toBe('a is x');
    expect(words(EVERYTHING)).toBe('');
  });

  test('every operator that a family offers has its own words, and one of several is compared as a single one', () => {
    for (const family of ['text', 'number', 'yesNo', 'date', 'time', 'dateTime', 'link', 'links', 'choices'] as const) {
      const said = operatorsFor(family).map((operator) => operatorWords(operator, family));
      expect(new Set(said).size, family).toBe(said.length);
      expect(said).toContain('is blank');
    }
    expect([otherSide('links'), otherSide('choices'), otherSide('number')]).toEqual(['link', 'text', 'number']);
  });
});
