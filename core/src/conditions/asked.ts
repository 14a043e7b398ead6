import { z } from 'zod';
import type { Comparison, Condition, Group, Operator } from './condition.ts';

/** An answer to a question of a view; null leaves its condition out. */
const answerSchema = z.union([z.string().max(2_000), z.number(), z.boolean()]).nullable();
/** The answers to the questions of a view, in their order. */
export const answersSchema = z.array(answerSchema).max(50);
export type AskedAnswers = z.infer<typeof answersSchema>;

/** A comparison of a filter whose value is asked each time that a view is opened: `Harbour is …`. */
export interface Question {
  readonly comparison: Comparison;
  readonly path: string;
  readonly operator: Operator;
}

const isAsked = (one: Condition): one is Extract<Comparison, { right: unknown }> =>
  one.kind === 'compare' && 'right' in one && one.right.kind === 'asked';

/** What a filter asks each time, from left to right. */
export function questionsOf(filter: Condition): Question[] {
  if (filter.kind === 'group') return filter.of.flatMap(questionsOf);
  const path = filter.left.kind === 'column' ? filter.left.path : '';
  return isAsked(filter) ? [{ comparison: filter, path, operator: filter.operator }] : [];
}

/** A filter with the answers to its questions, in order; a condition without an answer falls away. */
export function withAnswers(filter: Group, answers: AskedAnswers): Group {
  let next = 0;
  const answered = (one: Condition): Condition[] => {
    if (one.kind === 'group') {
      const of = one.of.flatMap(answered);
      // A group whose every condition fell away leaves every record, whatever its kind.
      return of.length === 0 && one.of.length > 0 ? [] : [{ ...one, of }];
    }
    if (!isAsked(one)) return [one];
    const value = answers[next++] ?? null;
    return value === null ? [] : [{ ...one, right: { kind: 'constant', value } }];
  };
  return { ...filter, of: filter.of.flatMap(answered) };
}
