import { compareValues, isBlank, type Value } from '../fields/index.ts';
import type { Comparison, Condition, Operand, Operator } from './condition.ts';

/** Gives the value of an operand; blank is null. */
export type Reader = (operand: Operand) => Value;

/** The day that a `today` operand means at a civil moment: `2026-08-17`, or `2026-08-17T00:00` beside date-times. */
export function dayFrom(now: string, { days, of }: Extract<Operand, { kind: 'today' }>): string {
  const day = new Date(Date.parse(`${now.slice(0, 10)}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);
  return of === 'date' ? day : `${day}T00:00`;
}

/**
 * Whether a condition holds. Two-valued: a comparison with a blank side does not hold, whatever its operator (only "is
 * blank" asks about blanks), and `none` is the plain opposite of `any`. `conditionToSql` gives the same answer for
 * sides of one family; a form whose conditions compare others is not published.
 */
export function holds(condition: Condition, read: Reader): boolean {
  if (condition.kind === 'compare') return compares(condition, read) === true;
  switch (condition.match) {
    case 'all':
      return condition.of.every((one) => holds(one, read));
    case 'any':
      return condition.of.some((one) => holds(one, read));
    case 'none':
      return !condition.of.some((one) => holds(one, read));
  }
}

/**
 * Whether a condition holds, or undefined while that hangs on a value that is blank: what a rule is decided by, which is
 * not asked before the values that it compares are there. `any` of something true is true, whatever else is blank.
 */
export function judge(condition: Condition, read: Reader): boolean | undefined {
  if (condition.kind === 'compare') return compares(condition, read);
  const verdicts = condition.of.map((one) => judge(one, read));
  const [some, open] = [verdicts.includes(condition.match !== 'all'), verdicts.includes(undefined)];
  // `some` ends it: a false one under `all`, a true one under `any` and `none`.
  const ended = condition.match === 'any';
  return some ? ended : open ? undefined : !ended;
}

/** True, false, or undefined for a comparison with a blank side. */
function compares(comparison: Comparison, read: Reader): boolean | undefined {
  const left = read(comparison.left);
  if (!('right' in comparison)) return (comparison.operator === 'isBlank') === isBlank(left);
  const right = read(comparison.right);
  if (isBlank(left) || isBlank(right)) return undefined;
  const { operator } = comparison;
  if (operator === 'has' || operator === 'hasNot')
    return Array.isArray(left) ? (left as readonly Value[]).includes(right) === (operator === 'has') : false;
  const order = compareValues(left, right);
  return order !== undefined && ORDERS[operator](order);
}

const ORDERS: Record<Exclude<Operator, 'isBlank' | 'isNotBlank' | 'has' | 'hasNot'>, (order: number) => boolean> = {
  is: (order) => order === 0,
  isNot: (order) => order !== 0,
  less: (order) => order < 0,
  atMost: (order) => order <= 0,
  more: (order) => order > 0,
  atLeast: (order) => order >= 0,
};
