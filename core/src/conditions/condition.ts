import { z } from 'zod';
import { sayLater } from '../languages/index.ts';

/** `pontoon` or, through links, `pontoon.harbour`. */
export const pathSchema = z
  .string()
  .regex(/^[a-z][a-z0-9_]*(\.[a-z][a-z0-9_]*){0,3}$/, sayLater('This is not a field.'));

/** A CEL expression over the fields of a record, and of those that it links to. */
export const calculationSchema = z.string().trim().min(1, sayLater('Write a calculation.')).max(2_000);

/**
 * One side of a comparison, and always visibly which: a column of the choices, a field of this form, or a field of the
 * record that encloses a line.
 */
export const operandSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('column'), path: pathSchema }),
  z.strictObject({ kind: z.literal('form'), path: pathSchema }),
  z.strictObject({ kind: z.literal('constant'), value: z.union([z.string().max(2_000), z.number(), z.boolean()]) }),
  z.strictObject({ kind: z.literal('enclosing'), path: pathSchema }),
  z.strictObject({ kind: z.literal('account') }),
  /** What whoever opens a view answers; only the filter of a view has it. */
  z.strictObject({ kind: z.literal('asked') }),
  /** Today, or so many days after it; for a date-time, the beginning of that day. */
  z.strictObject({
    kind: z.literal('today'),
    days: z.int().min(-36_500).max(36_500).default(0),
    of: z.enum(['date', 'dateTime']),
  }),
]);
export type Operand = z.infer<typeof operandSchema>;

export const OPERATORS = [
  'is',
  'isNot',
  'less',
  'atMost',
  'more',
  'atLeast',
  'has',
  'hasNot',
  'isBlank',
  'isNotBlank',
] as const;
export type Operator = (typeof OPERATORS)[number];

const unary = z.enum(['isBlank', 'isNotBlank']);
const binary = z.enum(['is', 'isNot', 'less', 'atMost', 'more', 'atLeast', 'has', 'hasNot']);

export const comparisonSchema = z.union([
  z.strictObject({ kind: z.literal('compare'), left: operandSchema, operator: binary, right: operandSchema }),
  z.strictObject({ kind: z.literal('compare'), left: operandSchema, operator: unary }),
]);
export type Comparison = z.infer<typeof comparisonSchema>;

export interface Group {
  readonly kind: 'group';
  readonly match: 'all' | 'any' | 'none';
  readonly of: readonly Condition[];
}

/** A tree of comparisons. An `all` or `none` group of nothing holds; an `any` group of nothing does not. */
export type Condition = Comparison | Group;

export const conditionSchema: z.ZodType<Condition> = z.lazy(() => z.union([comparisonSchema, groupSchema]));

export const groupSchema: z.ZodType<Group> = z.strictObject({
  kind: z.literal('group'),
  match: z.enum(['all', 'any', 'none']),
  of: z.array(conditionSchema).max(50),
});

/** A condition that always holds. */
export const EVERYTHING: Group = { kind: 'group', match: 'all', of: [] };

export const all = (...of: Condition[]): Group => ({ kind: 'group', match: 'all', of });

/** `left is right`, the most common comparison. */
export const is = (left: Operand, right: Operand): Comparison => ({ kind: 'compare', left, operator: 'is', right });

/** Every operand of a condition, from left to right. */
export function operandsOf(condition: Condition): Operand[] {
  if (condition.kind === 'group') return condition.of.flatMap(operandsOf);
  return 'right' in condition ? [condition.left, condition.right] : [condition.left];
}

/** The paths of one kind of operand that a condition reads. */
export const pathsOf = (condition: Condition, kind: 'column' | 'form' | 'enclosing'): string[] =>
  operandsOf(condition).flatMap((operand) => (operand.kind === kind && 'path' in operand ? [operand.path] : []));

/** The same tree with every operand put through `change`. */
export function mapOperands(condition: Condition, change: (operand: Operand) => Operand): Condition {
  if (condition.kind === 'group') return { ...condition, of: condition.of.map((one) => mapOperands(one, change)) };
  return 'right' in condition
    ? { ...condition, left: change(condition.left), right: change(condition.right) }
    : { ...condition, left: change(condition.left) };
}
