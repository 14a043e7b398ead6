import { z } from 'zod';
import {
  type Condition,
  calculationSchema,
  conditionSchema,
  type Group,
  groupSchema,
  judge,
  type Operand,
} from '../conditions/index.ts';
import { type Value, type Values, valueSchema } from '../fields/index.ts';
import { sayLater } from '../languages/index.ts';

/** Values that a rule is tried on at every publish, by path (`length`, `berth.longest_vessel`), and what it shall say. */
export const exampleSchema = z.strictObject({
  values: z.record(z.string().max(200), valueSchema),
  passes: z.boolean(),
});
export type Example = z.infer<typeof exampleSchema>;

/** What a rule demands, where a sentence cannot say it: a CEL expression that gives yes or no. */
export const expressionSchema = z.strictObject({ kind: z.literal('expression'), source: calculationSchema });

export type Demand = Condition | z.infer<typeof expressionSchema>;

export interface Rule {
  readonly id: string;
  /** `stop` refuses the save; `ask` lets it through once a person gives a reason, which goes into the history. */
  readonly kind: 'stop' | 'ask';
  /** Only asked when this holds; always when null. */
  readonly when: Group | null;
  /** Has to hold. Not asked while what decides it is blank. */
  readonly must: Demand;
  /** The field at which the message stands. */
  readonly at: string;
  readonly message: string;
  readonly examples: readonly Example[];
}

/** A check on save. */
export const ruleSchema: z.ZodType<Rule> = z.strictObject({
  id: z.string().min(1).max(40),
  kind: z.enum(['stop', 'ask']),
  when: groupSchema.nullable().default(null),
  must: z.union([conditionSchema, expressionSchema]),
  at: z.string().min(1).max(60),
  message: z.string().trim().min(1, sayLater('Say what is wrong and what to do.')).max(300),
  examples: z.array(exampleSchema).max(20).default([]),
});

/** How a rule reads what it is about: operands of conditions, and what its expression gives for a record. */
export interface RuleReader {
  operand(operand: Operand): Value;
  expression(): Value;
}

/** Whether an entry breaks a rule; false while the rule does not apply or cannot be decided yet. */
export function breaks(rule: Rule, read: RuleReader): boolean {
  if (rule.when && !(judge(rule.when, read.operand) ?? false)) return false;
  if (rule.must.kind === 'expression') return read.expression() === false;
  return judge(rule.must, read.operand) === false;
}

/** Reads operands out of an example's values; today and the account are as given. */
export const exampleReader =
  (values: Values, account: string | null, today: (operand: Extract<Operand, { kind: 'today' }>) => Value) =>
  (operand: Operand): Value => {
    switch (operand.kind) {
      case 'constant':
        return operand.value;
      case 'account':
        return account;
      case 'today':
        return today(operand);
      case 'asked':
        return null;
      default:
        return values[operand.path] ?? null;
    }
  };
