import { z } from 'zod';
import { idSchema } from './ids.ts';

const message = z.string().trim().min(1, 'Say what is wrong and what to do.').max(300);
const id = z.string().regex(/^[a-z0-9_]{1,40}$/, 'This is not the name of a rule.');

/** A rule of a table over several fields that the database itself holds, on every path. */
export const constraintSchema = z.discriminatedUnion('kind', [
  /** No two records have the same values in all of these fields. A record with a blank among them is not compared. */
  z.strictObject({
    kind: z.literal('unique'),
    id,
    fields: z.array(idSchema).min(2, 'Choose at least two fields; for one, make the field unique.').max(8),
    message,
  }),
  /**
   * No two records in use that agree in all of `same` have ranges that overlap. A range ends before its last moment, so
   * that one may begin when another ends; a blank end is open, a blank beginning is not compared.
   */
  z.strictObject({
    kind: z.literal('noOverlap'),
    id,
    same: z.array(idSchema).max(6),
    from: idSchema,
    to: idSchema,
    message,
  }),
]);
export type Constraint = z.infer<typeof constraintSchema>;

/** The name of the rule that every option list has: no combination in use occurs twice. */
export const COMBINATION = 'combination';

/** The fields that a constraint reads. */
export const constraintFields = (constraint: Constraint): readonly string[] =>
  constraint.kind === 'unique' ? constraint.fields : [...constraint.same, constraint.from, constraint.to];

/** A constraint as a sentence, without its message. */
export function constraintWords(constraint: Constraint, labelOf: (field: string) => string): string {
  const list = (fields: readonly string[]): string =>
    fields.length < 2
      ? labelOf(fields[0] ?? '')
      : `${fields.slice(0, -1).map(labelOf).join(', ')} and ${labelOf(fields.at(-1) ?? '')}`;
  if (constraint.kind === 'unique') return `No two records have the same ${list(constraint.fields)}`;
  const same = constraint.same.length === 0 ? '' : ` with the same ${list(constraint.same)}`;
  return `No two records${same} overlap from ${labelOf(constraint.from)} to ${labelOf(constraint.to)}`;
}
