import { compareValues, isBlank, type Value } from '../fields/index.ts';
import type { Comparison, Condition, Operand, Operator } from './condition.ts';

/** Gives the value of an operand; blank is null. */
export type Reader = (operand: Operand) => Value;

/**
 * Whether a condition holds. Two-valued: a comparison with a blank side does not hold, whatever its operator (only "is
 * blank" asks about blanks), and `none` is the plain opposite of `any`. `conditionToSql` gives the same answer for
 * sides of one family; a form whose conditions compare others is not published.
 */
export function holds(condition: Condition, read: Reader): boolean {
  if (condition.kind === 'compare') return compares(condition, read);
  switch (condition.match) {
    case 'all':
      return condition.of.every((one) => holds(one, read));
    case 'any':
      return condition.of.some((one) => holds(one, read));
    case 'none':
      return !condition.of.some((one) => holds(one, read));
  }
}

function compares(comparison: Comparison, read: Reader): boolean {
  const left = read(comparison.left);
  if (!('right' in comparison)) return (comparison.operator === 'isBlank') === isBlank(left);
  const right = read(comparison.right);
  if (isBlank(left) || isBlank(right)) return false;
  const order = compareValues(left, right);
  return order !== undefined && ORDERS[comparison.operator](order);
}

const ORDERS: Record<Exclude<Operator, 'isBlank' | 'isNotBlank'>, (order: number) => boolean> = {
  is: (order) => order === 0,
  isNot: (order) => order !== 0,
  less: (order) => order < 0,
  atMost: (order) => order <= 0,
  more: (order) => order > 0,
  atLeast: (order) => order >= 0,
};
