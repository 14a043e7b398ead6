import { z } from 'zod';
import { comparisonSchema, holds, type Operand, operandsOf } from '../conditions/index.ts';
import { isBlank, type Problem, type Value } from '../fields/index.ts';

/** A check on save. `must` has to hold; it is not asked while a value that it compares is blank. */
export const ruleSchema = z.strictObject({
  id: z.string().min(1).max(40),
  /** `stop` refuses the save. */
  kind: z.literal('stop'),
  must: comparisonSchema,
  /** The field at which the message stands. */
  at: z.string().min(1),
  message: z.string().trim().min(1, 'Say what is wrong and what to do.').max(300),
});
export type Rule = z.infer<typeof ruleSchema>;

/** The problem with an entry under one rule, or undefined when the rule holds or does not apply yet. */
export function brokenRule(rule: Rule, read: (operand: Operand) => Value): Problem | undefined {
  const asksForBlank = !('right' in rule.must);
  if (!asksForBlank && operandsOf(rule.must).some((operand) => isBlank(read(operand)))) return undefined;
  return holds(rule.must, read) ? undefined : { path: rule.at, rule: rule.id, message: rule.message };
}
