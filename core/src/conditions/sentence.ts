import type { Family, Value } from '../fields/index.ts';
import { say, sayCount, sayLater } from '../languages/index.ts';
import type { Comparison, Condition, Operand, Operator } from './condition.ts';

const PLAIN: Record<Operator, string> = {
  is: sayLater('is'),
  isNot: sayLater('is not'),
  less: sayLater('is less than'),
  atMost: sayLater('is at most'),
  more: sayLater('is more than'),
  atLeast: sayLater('is at least'),
  has: sayLater('has'),
  hasNot: sayLater('does not have'),
  isBlank: sayLater('is blank'),
  isNotBlank: sayLater('is not blank'),
};
const OF_TIME: Partial<Record<Operator, string>> = {
  less: sayLater('is before'),
  atMost: sayLater('is at or before'),
  more: sayLater('is after'),
  atLeast: sayLater('is at or after'),
};

/** How an operator reads in a sentence about values of a family: dates are before and after, numbers less and more. */
export const operatorWords = (operator: Operator, family: Family): string =>
  say(
    (family === 'date' || family === 'time' || family === 'dateTime' ? OF_TIME[operator] : undefined) ??
      PLAIN[operator],
  );

/** The operators that make sense for a family, in the order in which they are offered. */
export function operatorsFor(family: Family): Operator[] {
  const ordered: Operator[] = ['less', 'atMost', 'more', 'atLeast'];
  if (family === 'choices' || family === 'links') return ['has', 'hasNot', 'isBlank', 'isNotBlank'];
  return ['is', 'isNot', ...(family === 'yesNo' || family === 'link' ? [] : ordered), 'isBlank', 'isNotBlank'];
}

/** The family that the other side of a comparison with values of `family` must have: one of several is a single one. */
export const otherSide = (family: Family): Family =>
  family === 'choices' ? 'text' : family === 'links' ? 'link' : family;

/** How the sides of a condition are named. */
export interface Names {
  /** What an operand is called, with its side: `Pontoon`, `this form’s Pontoon`, `today`. Not asked for constants. */
  nameOf(operand: Operand): string;
  familyOf(operand: Operand): Family | undefined;
  /** A constant as it reads beside the operand that it is compared with. */
  show(value: Value, beside: Operand): string;
}

/** "today", "3 days ago", "in 14 days". */
export const dayWords = (days: number): string => {
  const many = `${Math.abs(days)} ${sayCount(Math.abs(days), 'day', 'days')}`;
  return days === 0 ? say('today') : days < 0 ? say('{many} ago', { many }) : say('in {many}', { many });
};

/**
 * A condition in words: `Pontoon is this form’s Pontoon and In use is yes`, `(Type is Tender or Length is at most 6)`.
 * A condition that always holds is the empty text.
 */
export function describeCondition(condition: Condition, names: Names): string {
  if (condition.kind === 'compare') return describeComparison(condition, names);
  const of = condition.of.map((one) => {
    const words = describeCondition(one, names);
    return one.kind === 'group' && one.match === 'any' && one.of.length > 1 && condition.of.length > 1
      ? `(${words})`
      : words;
  });
  if (condition.match === 'none') return of.length === 0 ? '' : say('none of these: {list}', { list: of.join('; ') });
  return of.filter((words) => words !== '').join(condition.match === 'all' ? ` ${say('and')} ` : ` ${say('or')} `);
}

function describeComparison(comparison: Comparison, names: Names): string {
  const { left, operator } = comparison;
  const right = 'right' in comparison ? comparison.right : undefined;
  const family = names.familyOf(left) ?? (right && names.familyOf(right)) ?? 'text';
  const side = (operand: Operand, beside: Operand): string =>
    operand.kind === 'constant'
      ? names.show(operand.value, beside)
      : operand.kind === 'today'
        ? dayWords(operand.days)
        : names.nameOf(operand);
  const words = `${side(left, right ?? left)} ${operatorWords(operator, family)}`;
  return right ? `${words} ${side(right, left)}` : words;
}
