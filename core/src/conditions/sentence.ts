import type { Family } from '../fields/index.ts';
import type { Operator } from './condition.ts';

const PLAIN: Record<Operator, string> = {
  is: 'is',
  isNot: 'is not',
  less: 'is less than',
  atMost: 'is at most',
  more: 'is more than',
  atLeast: 'is at least',
  isBlank: 'is blank',
  isNotBlank: 'is not blank',
};
const OF_TIME: Partial<Record<Operator, string>> = {
  less: 'is before',
  atMost: 'is at or before',
  more: 'is after',
  atLeast: 'is at or after',
};

/** How an operator reads in a sentence about values of a family: dates are before and after, numbers less and more. */
export const operatorWords = (operator: Operator, family: Family): string =>
  (family === 'date' || family === 'time' || family === 'dateTime' ? OF_TIME[operator] : undefined) ?? PLAIN[operator];

/** The operators that make sense for a family, in the order in which they are offered. */
export function operatorsFor(family: Family): Operator[] {
  const ordered: Operator[] = ['less', 'atMost', 'more', 'atLeast'];
  if (family === 'choices' || family === 'links') return ['isBlank', 'isNotBlank'];
  return ['is', 'isNot', ...(family === 'yesNo' || family === 'link' ? [] : ordered), 'isBlank', 'isNotBlank'];
}
