import { z } from 'zod';
import type { Family } from '../../fields/index.ts';
import { say, sayLater } from '../../languages/index.ts';
import { type FieldId, fieldIdSchema } from '../ids.ts';

/** What every rule between records has, whatever its kind. */
export const constraintBase = {
  id: z.string().regex(/^[a-z0-9_]{1,40}$/, sayLater('This is not the name of a rule.')),
  message: z.string().trim().min(1, sayLater('Say what is wrong and what to do.')).max(300),
};

/** The fields that records must agree in to be compared with one another. */
export const sameFields = z.array(fieldIdSchema).max(6);

/** The types of fields a range is made of: it goes from a value to another of the same type. */
export const RANGE_FAMILIES: readonly Family[] = ['date', 'dateTime', 'number'];

/** A word of the sentence that a builder completes, or a slot in it: which member of the rule it sets, and with what. */
export type SentencePart =
  | string
  | {
      readonly sets: string;
      /** What the slot is for, as a screen reader says it. */
      readonly label: string;
      /** `fields` takes several. */
      readonly takes: 'field' | 'fields' | 'count';
      /** The families that fit; all that can be compared when left out. */
      readonly families?: readonly Family[];
      /** What stands there while nothing is chosen, where it may stay so. */
      readonly nothing?: string;
    };

/** One kind of rule between records, said once: how it is written down, completed as a sentence, read aloud and checked. */
export interface ConstraintKind<C extends { readonly kind: string } = { readonly kind: string }> {
  readonly kind: C['kind'];
  readonly schema: z.ZodType<C>;
  /** What a builder picks it by, and a word on what for. */
  readonly label: string;
  readonly detail: string;
  readonly sentence: readonly SentencePart[];
  /** The fields it reads; its message stands at the last. */
  fields(constraint: C): readonly FieldId[];
  /** The rule as a sentence, without its message and full stop. */
  words(constraint: C, labelOf: (field: FieldId) => string): string;
  /** Why fields of these families cannot hold it; undefined when they can. */
  misfit(constraint: C, familyOf: (field: FieldId) => Family | undefined): string | undefined;
}

/** Declares a kind with its members typed; the registry gives each only rules of its own kind. */
export const defineConstraintKind = <C extends { readonly kind: string }>(kind: ConstraintKind<C>): ConstraintKind<C> =>
  kind;

/** Field labels as one list: `Pontoon, Berth and Arrival`. */
export const listed = (fields: readonly FieldId[], labelOf: (field: FieldId) => string): string =>
  fields.length < 2
    ? labelOf(fields[0] ?? '')
    : say('{first} and {last}', {
        first: fields.slice(0, -1).map(labelOf).join(', '),
        last: labelOf(fields.at(-1) ?? ''),
      });

/** `with the same Pontoon and Berth`, or nothing for rules over all records of the table. */
export const withTheSame = (same: readonly FieldId[], labelOf: (field: FieldId) => string): string =>
  same.length === 0 ? '' : ` ${say('with the same {same}', { same: listed(same, labelOf) })}`;

/** Why two fields make no range, in words. */
export function rangeMisfit(
  { from, to }: { readonly from: FieldId; readonly to: FieldId },
  familyOf: (field: FieldId) => Family | undefined,
): string | undefined {
  if (!RANGE_FAMILIES.some((family) => family === familyOf(from)))
    return say('A range is made of two dates, two date-times or two numbers.');
  if (familyOf(from) !== familyOf(to)) return say('The two ends of a range must be of one kind.');
  return from === to ? say('A range needs two different fields.') : undefined;
}
