import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  all,
  type Comparison,
  type Condition,
  EVERYTHING,
  type Group,
  holds,
  is,
  type Operand,
  operandsOf,
  pathsOf,
} from '../conditions/index.ts';
import type { Value } from '../fields/index.ts';
import { testField } from '../fixtures/testField.ts';
import {
  certainPairs,
  choiceMeant,
  choicesFound,
  conjuncts,
  explainNarrowing,
  NOT_NARROWED,
  narrowingColumns,
  resolveNarrowing,
  type Scope,
  sourceOf,
  wantedOf,
  withAncestors,
  withTableNarrowing,
} from './index.ts';

const column = (path: string): Operand => ({ kind: 'column', path });
const form = (path: string): Operand => ({ kind: 'form', path });
const constant = (value: string | number | boolean): Operand => ({ kind: 'constant', value });

// A chain of tables as harbour, pontoon, berth and place are one: each record links to one of the table above.
const LEVELS = ['harbour', 'pontoon', 'berth', 'place'] as const;
type Level = (typeof LEVELS)[number];
const above = (level: string): Level | undefined => LEVELS[LEVELS.indexOf(level as Level) - 1];
/** Each level is narrowed by the one above it: *Berths whose Pontoon is this form’s Pontoon*. */
const whereOf = (level: string): Group => {
  const parent = above(level);
  return parent === undefined ? EVERYTHING : all(is(column(parent), form(parent)));
};

/** For each level the parents of its records, by their places in the level above. */
type World = Readonly<Record<Level, readonly number[]>>;
const levelOf = (size: number) => fc.array(fc.nat(size - 1), { minLength: 1, maxLength: 6 });
const worlds: fc.Arbitrary<World> = fc.integer({ min: 1, max: 3 }).chain((harbours) =>
  fc.record({ harbours: fc.constant(harbours), pontoon: levelOf(harbours) }).chain((upper) =>
    levelOf(upper.pontoon.length).chain((berth) =>
      levelOf(berth.length).map((place) => ({
        harbour: Array.from({ length: upper.harbours }, () => 0),
        pontoon: upper.pontoon,
        berth,
        place,
      })),
    ),
  ),
);

/** What a record of a level has at a path such as `berth.pontoon.harbour`. */
function valueAt(world: World, level: Level, record: number, path: string): Value {
  const parent = above(level);
  const [step, ...rest] = path.split('.');
  if (parent === undefined || step !== parent) return null;
  const found = world[level][record] as number;
  return rest.length === 0 ? found : valueAt(world, parent, found, rest.join('.'));
}

const scopeOf = (values: Readonly<Record<string, Value>>, more: Partial<Scope> = {}): Scope => ({
  read: (path) => values[path] ?? null,
  account: 'quayclerk',
  now: '2026-08-17T09:00',
  enclosing: () => null,
  narrowingOf: (field) => ({ table: String(field), where: whereOf(field) }),
  targetOf: (_table, path) => path.split('.').at(-1),
  ...more,
});

/** The records of a level that are offered, by their places. */
const offered = (world: World, level: Level, condition: Condition): number[] =>
  [...world[level].keys()].filter((record) =>
    holds(condition, (one) =>
      one.kind === 'column' ? valueAt(world, level, record, one.path) : one.kind === 'constant' ? one.value : null,
    ),
  );

describe('a chain of dropdowns', () => {
  test('offers the records below the nearest one that is chosen, also across levels that are blank', () => {
    const chosen = fc.record({
      harbour: fc.option(fc.nat(2)),
      pontoon: fc.option(fc.nat(5)),
      berth: fc.option(fc.nat(5)),
    });
    fc.assert(
      fc.property(worlds, chosen, fc.constantFrom(...LEVELS), (world, values, level) => {
        const resolved = resolveNarrowing(level, whereOf(level), scopeOf(values));
        const upper = LEVELS.slice(0, LEVELS.indexOf(level)).reverse() as (keyof typeof values)[];
        const nearest = upper.find((one) => values[one] !== null);
        const path = nearest && upper.slice(0, upper.indexOf(nearest) + 1).join('.');
        const expected = [...world[level].keys()].filter(
          (record) => path === undefined || valueAt(world, level, record, path) === values[nearest as 'harbour'],
        );
        expect(offered(world, level, resolved)).toEqual(expected);
      }),
      { numRuns: 300 },
    );
  });

  test('reads columns and constants once it is resolved, and of columns those that are named beforehand', () => {
    const chosen = fc.dictionary(fc.constantFrom(...LEVELS), fc.nat(5));
    fc.assert(
      fc.property(chosen, fc.constantFrom(...LEVELS), (values, level) => {
        const resolved = resolveNarrowing(level, whereOf(level), scopeOf(values));
        expect(operandsOf(resolved).filter((one) => one.kind !== 'column' && one.kind !== 'constant')).toEqual([]);
        const named = narrowingColumns(whereOf(level), level, whereOf);
        expect(pathsOf(resolved, 'column').filter((path) => !named.includes(path))).toEqual([]);
      }),
    );
  });

  test('that runs in a circle ends: two dropdowns that narrow each other, both blank, offer everything', () => {
    const narrowed = { a: all(is(column('b'), form('b'))), b: all(is(column('a'), form('a'))) };
    const scope = scopeOf({}, { narrowingOf: (field) => ({ table: String(field), where: narrowed[field as 'a'] }) });
    expect(resolveNarrowing('a', narrowed.a, scope)).toEqual(EVERYTHING);
    expect(narrowingColumns(narrowed.a, 'a', (field) => narrowed[field as 'a'])).toEqual(['b', 'b.a']);
  });

  test('does not pass through a parent over another table than the column links to', () => {
    const scope = scopeOf({ harbour: 1 }, { targetOf: () => 'elsewhere' });
    expect(resolveNarrowing('berth', whereOf('berth'), scope)).toEqual(EVERYTHING);
  });
});

describe('a narrowing', () => {
  test('by what is known means what its conditions say', () => {
    const operators = fc.constantFrom('is', 'isNot', 'less', 'atMost', 'more', 'atLeast');
    const comparisons = fc
      .tuple(fc.constantFrom('longest', 'draught'), operators, fc.constantFrom('length', 'depth'))
      .map(
        ([path, operator, other]) =>
          ({ kind: 'compare', left: column(path), operator, right: form(other) }) as Comparison,
      );
    const groups = fc
      .array(fc.tuple(fc.constantFrom('all', 'any', 'none'), fc.array(comparisons, { minLength: 1, maxLength: 3 })), {
        maxLength: 3,
      })
      .map((parts): Group => all(...parts.map(([match, of]) => ({ kind: 'group', match, of }) as Group)));
    const numbers = fc.record({ length: fc.nat(4), depth: fc.nat(4), longest: fc.nat(4), draught: fc.nat(4) });
    fc.assert(
      fc.property(groups, numbers, (where, known) => {
        const read = (one: Operand): Value =>
          one.kind === 'constant' ? one.value : 'path' in one ? known[one.path as 'length'] : null;
        const resolved = resolveNarrowing('berths', where, scopeOf(known));
        expect(holds(resolved, read)).toBe(holds(where, read));
      }),
    );
  });

  test('loses the conditions whose other side is blank, and a group of none that counts narrows nothing', () => {
    const fits: Condition = { kind: 'compare', left: column('longest'), operator: 'atLeast', right: form('length') };
    const open = is(column('open'), constant(true));
    const resolved = (where: Group, values = {}) => resolveNarrowing('berths', where, scopeOf(values));
    expect(resolved(all(fits, open))).toEqual(all(open));
    expect(resolved(all(fits, open), { length: 6 })).toEqual(
      all({ kind: 'compare', left: column('longest'), operator: 'atLeast', right: constant(6) }, open),
    );
    expect(resolved({ kind: 'group', match: 'none', of: [fits] })).toEqual(EVERYTHING);
    // Of any, what is known narrows by itself.
    expect(resolved({ kind: 'group', match: 'any', of: [fits, open] })).toEqual({
      kind: 'group',
      match: 'any',
      of: [open],
    });
    expect(resolved({ kind: 'group', match: 'any', of: [fits] })).toEqual(EVERYTHING);
  });

  test('may hang on the form alone: what that says is decided, and holds for all choices or for none', () => {
    const visitor = is(form('kind'), constant('Visitor'));
    const free = is(column('visitors'), constant(true));
    // Visitors are offered the berths for visitors, others all of them.
    const where = all({ kind: 'group', match: 'any', of: [{ kind: 'group', match: 'none', of: [visitor] }, free] });
    const berths = (values: Readonly<Record<string, Value>>) => {
      const resolved = resolveNarrowing('berths', where, scopeOf(values));
      return [true, false].filter((visitors) =>
        holds(resolved, (one) => (one.kind === 'column' ? visitors : one.kind === 'constant' ? one.value : null)),
      );
    };
    expect([berths({ kind: 'Visitor' }), berths({ kind: 'Member' }), berths({})]).toEqual([
      [true],
      [true, false],
      [true, false],
    ]);
    const named = all({ kind: 'compare', left: form('vessel'), operator: 'isNotBlank' });
    const none = () => null;
    expect(holds(resolveNarrowing('berths', named, scopeOf({ vessel: 5 })), none)).toBe(true);
    expect(holds(resolveNarrowing('berths', named, scopeOf({})), none)).toBe(false);
  });

  test('by several values of the form asks for one of them', () => {
    const among = (operator: 'has' | 'hasNot' | 'is'): Condition => ({
      kind: 'compare',
      left: form('services'),
      operator,
      right: column('kind'),
    });
    const kinds = (operator: 'has' | 'hasNot' | 'is') => {
      const resolved = resolveNarrowing('tariff', all(among(operator)), scopeOf({ services: ['Crane', 'Water'] }));
      expect(pathsOf(resolved, 'form')).toEqual([]);
      const read = (kind: Value) => (one: Operand) =>
        one.kind === 'column' ? kind : one.kind === 'constant' ? one.value : null;
      return ['Crane', 'Water', 'Power', null].filter((kind) => holds(resolved, read(kind)));
    };
    expect([kinds('has'), kinds('hasNot'), kinds('is')]).toEqual([['Crane', 'Water'], ['Power'], []]);
    const turned = resolveNarrowing(
      'tariff',
      all(is(column('kind'), form('services'))),
      scopeOf({ services: ['Crane'] }),
    );
    expect(holds(turned, () => 'Crane')).toBe(false);
  });

  test('reads the account, the day and the record around it', () => {
    const where = all(
      is(column('keeper'), { kind: 'account' }),
      is(column('opens'), { kind: 'today', days: 1, of: 'date' }),
      is(column('owner'), { kind: 'enclosing', path: 'owner' }),
    );
    const scope = scopeOf({}, { enclosing: (path) => (path === 'owner' ? 4 : null) });
    expect(resolveNarrowing('berths', where, scope)).toEqual(
      all(
        is(column('keeper'), constant('quayclerk')),
        is(column('opens'), constant('2026-08-18')),
        is(column('owner'), constant(4)),
      ),
    );
    // Nobody is signed in on a public page: what compares with the account narrows nothing there.
    expect(
      resolveNarrowing('berths', all(is(column('keeper'), { kind: 'account' })), scopeOf({}, { account: null })),
    ).toEqual(EVERYTHING);
  });

  test('is explained condition by condition: what counts, what is open, what counts through a blank parent', () => {
    const open = is(column('open'), constant(true));
    const where = all(is(column('pontoon'), form('pontoon')), is(column('owner'), form('owner')), open);
    const states = explainNarrowing('berth', where, scopeOf({ harbour: 1 })).map((one) => one.state);
    expect(states).toEqual(['through', 'open', 'counts']);
    const ofForm = all(is(form('kind'), constant('Visitor')), is(column('pontoon'), form('pontoon')));
    const known = explainNarrowing('berth', ofForm, scopeOf({ kind: 'Visitor', pontoon: 2 }));
    expect(known.map((one) => one.state)).toEqual(['counts', 'counts']);
  });
});

describe('what a condition says for certain', () => {
  test('are its pairs outside of any and none, whichever side the field stands on', () => {
    const pair = is(column('pontoon'), form('pontoon'));
    const turned = is(form('harbour'), column('harbour'));
    expect(certainPairs(all(pair, all(turned)))).toEqual([
      { column: 'pontoon', parent: 'pontoon' },
      { column: 'harbour', parent: 'harbour' },
    ]);
    for (const match of ['any', 'none'] as const)
      expect(certainPairs({ kind: 'group', match, of: [pair] })).toEqual([]);
    // A value that is reached through a link is no field of the form that could be filled.
    expect(certainPairs(is(column('owner'), form('vessel.owner')))).toEqual([]);
  });

  test('begins a new record with what it compares with, and nothing behind a link', () => {
    const read = (one: Operand): Value => (one.kind === 'form' ? 7 : one.kind === 'constant' ? one.value : null);
    const where = all(
      is(column('harbour'), form('harbour')),
      is(constant('Yacht'), column('kind')),
      is(column('pontoon.harbour'), constant(1)),
      is(column('keeper'), { kind: 'account' }),
      { kind: 'group', match: 'any', of: [is(column('open'), constant(true))] },
    );
    expect(wantedOf(where, read)).toEqual({ harbour: 7, kind: 'Yacht' });
  });
});

describe('the levels of an option list', () => {
  const level = (id: string, of: string) => testField(id, id, 'choice', { level: { table: 'faults', column: of } });
  const fields = [
    level('part', 'part'),
    level('system', 'system'),
    level('defect', 'defect'),
    testField('note', 'Note', 'text'),
  ];
  const parents = (id: string): string[] => {
    const field = fields.find((one) => one.id === id) as (typeof fields)[number];
    return certainPairs(withAncestors(field, ['system', 'part', 'defect'], fields, NOT_NARROWED).where).map(
      (one) => one.parent,
    );
  };

  test('are narrowed by every level above them that is on the form, whatever their order there', () => {
    expect([parents('system'), parents('part'), parents('defect'), parents('note')]).toEqual([
      [],
      ['system'],
      ['system', 'part'],
      [],
    ]);
  });

  test('take their words from a column, links their records from a table, and other fields neither', () => {
    expect(sourceOf(level('part', 'part'))).toEqual({ table: 'faults', column: 'part' });
    expect(sourceOf(testField('berth', 'Berth', 'link', { table: 'berths' }))).toEqual({ table: 'berths' });
    expect(sourceOf(testField('note', 'Note', 'text'))).toBeUndefined();
  });
});

test('a form adds to the narrowing of the table; what both say counts once', () => {
  const [a, b] = [is(column('harbour'), form('harbour')), is(column('open'), constant(true))];
  const field = testField('berth', 'Berth', 'link', { table: 'berths' }, { narrowing: all(a) });
  expect(withTableNarrowing(field, { ...NOT_NARROWED, where: all(all(b, a)) }).where).toEqual(all(a, b));
  expect(withTableNarrowing(testField('berth', 'Berth', 'link'), NOT_NARROWED)).toBe(NOT_NARROWED);
  expect(conjuncts(all(a, all(b, { kind: 'group', match: 'any', of: [a, b] })))).toHaveLength(3);
});

describe('typed words', () => {
  const choice = (value: number, title: string, ...shown: string[]) => ({ value, title, facts: {}, shown });
  const berths = [
    choice(1, 'A-1', 'Gannet Quay', '8 m'),
    choice(2, 'A-12', 'Tern Cove', '12 m'),
    choice(3, 'A-1', 'Tern Cove', '20 m'),
  ];

  test('find choices by every one of them, in the title or beside it', () => {
    const found = (text: string) => choicesFound(berths, text).map((one) => one.value);
    expect([found('a-1'), found('tern a-1'), found('  12  '), found('cove quay'), found('')]).toEqual([
      [1, 2, 3],
      [2, 3],
      [2],
      [],
      [1, 2, 3],
    ]);
  });

  test('mean the choice that is called so, or, typed, the first that they find; pasted, never one of several', () => {
    const meant = (text: string, near: boolean) => choiceMeant(berths, text, near)?.value ?? null;
    expect([meant('a-1', true), meant(' A-12 ', true), meant('cove', true), meant('Z', true)]).toEqual([1, 2, 2, null]);
    expect([meant('a-1', false), meant('A-12', false), meant('cove', false)]).toEqual([null, 2, null]);
  });
});
