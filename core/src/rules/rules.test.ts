import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { all, type Condition, type Operand } from '../conditions/index.ts';
import type { Value, Values } from '../fields/index.ts';
import { breaks, exampleReader, type Rule, ruleSchema } from './index.ts';

const column = (path: string): Operand => ({ kind: 'column', path });
const compare = (left: Operand, operator: 'is' | 'more' | 'atMost', right: Operand): Condition => ({
  kind: 'compare',
  left,
  operator,
  right,
});
const constant = (value: string | number): Operand => ({ kind: 'constant', value });
const rule = (more: Partial<Rule>): Rule => ({
  id: 'fits',
  kind: 'stop',
  when: null,
  must: compare(column('length'), 'atMost', column('berth.longest')),
  at: 'berth',
  message: 'This vessel is longer than its berth.',
  examples: [],
  ...more,
});
const day = (): Value => '2026-08-17';
/** Whether the values break a rule; `says` is what its expression gives. */
const broken = (one: Rule, values: Values, says: Value = null): boolean =>
  breaks(one, { operand: exampleReader(values, 'quayclerk', day), expression: () => says });

describe('a rule', () => {
  test('is broken by values that its condition does not hold for, and not decided before they are there', () => {
    expect(broken(rule({}), { length: 12, 'berth.longest': 8 })).toBe(true);
    expect(broken(rule({}), { length: 8, 'berth.longest': 8 })).toBe(false);
    expect(broken(rule({}), { length: 12 })).toBe(false);
    expect(broken(rule({}), {})).toBe(false);
  });

  test('is asked only when its own condition holds; what is blank there does not', () => {
    const tender = rule({ when: all(compare(column('kind'), 'is', constant('Tender'))) });
    const long = { length: 12, 'berth.longest': 8 };
    expect([
      broken(tender, { ...long, kind: 'Tender' }),
      broken(tender, { ...long, kind: 'Yacht' }),
      broken(tender, long),
    ]).toEqual([true, false, false]);
  });

  test('that is an expression is broken by no alone', () => {
    const one = rule({ must: { kind: 'expression', source: 'length <= 8.0' } });
    expect([broken(one, {}, false), broken(one, {}, true), broken(one, {}, null)]).toEqual([true, false, false]);
    const when = rule({
      must: { kind: 'expression', source: 'false' },
      when: all(compare(column('length'), 'more', constant(3))),
    });
    expect([broken(when, { length: 4 }, false), broken(when, { length: 3 }, false)]).toEqual([true, false]);
  });

  test('is never broken while nothing is entered, and entering more never takes a refusal back', () => {
    const path = fc.constantFrom('length', 'draught', 'beam');
    const side = fc.oneof(path.map(column), fc.nat(3).map(constant));
    const comparison = fc
      .tuple(path.map(column), fc.constantFrom('is' as const, 'more' as const, 'atMost' as const), side)
      .map(([left, operator, right]) => compare(left, operator, right));
    const tree = fc
      .tuple(
        fc.constantFrom('all' as const, 'any' as const, 'none' as const),
        fc.array(comparison, { minLength: 1, maxLength: 3 }),
      )
      .map(([match, of]): Condition => ({ kind: 'group', match, of }));
    const values = fc.record({ length: fc.nat(3), draught: fc.nat(3), beam: fc.nat(3) });
    fc.assert(
      fc.property(tree, values, fc.subarray(['length', 'draught', 'beam'] as const), (must, whole, entered) => {
        const one = rule({ must });
        expect(broken(one, {})).toBe(false);
        const some = Object.fromEntries(entered.map((key) => [key, whole[key]]));
        if (broken(one, some)) expect(broken(one, whole)).toBe(true);
      }),
    );
  });
});

describe('the values of an example', () => {
  test('are read by path, with the account and the day that are given', () => {
    const read = exampleReader({ length: 6, 'berth.longest': 8 }, 'quayclerk', day);
    expect([
      read(column('length')),
      read({ kind: 'form', path: 'berth.longest' }),
      read(column('draught')),
      read(constant('x')),
      read({ kind: 'account' }),
      read({ kind: 'today', days: 0, of: 'date' }),
      read({ kind: 'asked' }),
    ]).toEqual([6, 8, null, 'x', 'quayclerk', '2026-08-17', null]);
  });
});

test('a rule is stored and read back the same; without a message or with a kind that is none it is refused', () => {
  const stored = rule({ examples: [{ values: { length: 12, 'berth.longest': 8 }, passes: false }] });
  expect(ruleSchema.parse(JSON.parse(JSON.stringify(stored)))).toEqual(stored);
  expect(
    ruleSchema.parse({ id: 'fits', kind: 'ask', must: stored.must, at: 'berth', message: ' Say why. ' }),
  ).toMatchObject({
    when: null,
    examples: [],
    message: 'Say why.',
  });
  const refused = ruleSchema.safeParse({ ...stored, message: '  ' });
  expect(refused.error?.issues[0]?.message).toBe('Say what is wrong and what to do.');
  expect(ruleSchema.safeParse({ ...stored, kind: 'warn' }).success).toBe(false);
});
