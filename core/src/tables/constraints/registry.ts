import { z } from 'zod';
import type { Family } from '../../fields/index.ts';
import type { FieldId } from '../ids.ts';
import { atMost } from './atMost.ts';
import type { ConstraintKind } from './kind.ts';
import { noOverlap } from './noOverlap.ts';
import { unique } from './unique.ts';

const KINDS = [unique, noOverlap, atMost] as const;

/** A rule of a table between its records that the database itself holds, on every path. */
export type Constraint = z.infer<(typeof KINDS)[number]['schema']>;
export type ConstraintOf<K extends Constraint['kind']> = Extract<Constraint, { kind: K }>;

export const constraintSchema = z.discriminatedUnion(
  'kind',
  KINDS.map(({ schema }) => schema) as never,
) as unknown as z.ZodType<Constraint, Constraint>;

/** Every kind, in the order in which they are offered. */
export const constraintKinds: readonly ConstraintKind[] = KINDS as unknown as readonly ConstraintKind[];

/** What is known of a kind of rule; only ever given rules of that kind. */
export const constraintKind = (kind: Constraint['kind']): ConstraintKind<Constraint> =>
  KINDS.find((one) => one.kind === kind) as unknown as ConstraintKind<Constraint>;

/** The name of the rule that every option list has: no combination in use occurs twice. */
export const COMBINATION = 'combination';

/** The fields that a constraint reads; its message stands at the last. */
export const constraintFields = (constraint: Constraint): readonly FieldId[] =>
  constraintKind(constraint.kind).fields(constraint);

/** A constraint as a sentence, without its message and full stop. */
export const constraintWords = (constraint: Constraint, labelOf: (field: FieldId) => string): string =>
  constraintKind(constraint.kind).words(constraint, labelOf);

/** Why fields of these families cannot hold a constraint, in words; undefined when they can. */
export const kindMisfit = (
  constraint: Constraint,
  familyOf: (field: FieldId) => Family | undefined,
): string | undefined => constraintKind(constraint.kind).misfit(constraint, familyOf);
