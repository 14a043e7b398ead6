import { z } from 'zod';
import { pathSchema } from '../conditions/index.ts';
import { linksOne, type Value, withArticle } from '../fields/index.ts';
import { say } from '../languages/index.ts';
import {
  type FieldDefinition,
  fieldAtPath,
  fieldIdSchema,
  isGiven,
  type RecordId,
  type TableId,
  type Tables,
  tableIdSchema,
  typeOf,
} from '../tables/index.ts';

/** One value copied from the found record into a field of the form. */
const fillPairSchema = z.strictObject({
  /** A column of the found record, or through its links; `self` is the record itself, for a link. */
  from: z.union([z.literal('self'), pathSchema]),
  to: fieldIdSchema,
  /** What happens to a value that is already there. */
  policy: z.enum(['replace', 'keep', 'ask']).default('replace'),
});
export type FillPair = z.infer<typeof fillPairSchema>;

/**
 * What a field fills. Without `key`, choosing a record in this link fills; with it, typing the value of column `key`
 * of `table` into this plain field and leaving it does.
 */
export const fillSchema = z.strictObject({
  table: tableIdSchema,
  key: fieldIdSchema.nullable().default(null),
  pairs: z.array(fillPairSchema).max(100),
  /** What happens when no record has that key; `offer` says so and lets staff add one in place. */
  whenNone: z.enum(['nothing', 'message', 'offer', 'refuse']).default('message'),
});
export type Fill = z.infer<typeof fillSchema>;

/** Where a filled value came from, remembered with the value that was filled. */
export interface Origin {
  /** The field whose choice or key filled it. */
  readonly by: string;
  readonly value: Value;
  /** The record that it was copied from, its title that day, and the column; `self` is the record itself. */
  readonly table: TableId;
  readonly record: RecordId;
  readonly title: string;
  readonly from: string;
  /** What that record says today, when it is known to say something else since. */
  readonly now?: Value;
}

/** Why a column cannot fill a field, in words; undefined when the pair fits. */
export function misfit(tables: Tables, source: TableId, from: string, to: FieldDefinition): string | undefined {
  if (isGiven(to)) return say('{label} is given by the system and cannot be filled.', { label: to.label });
  if (from === 'self')
    return linksOne(to) && to.settings.table === source
      ? undefined
      : say('{label} does not link to {other}.', { label: to.label, other: tables.get(source)?.label ?? source });
  const field = fieldAtPath(tables, source, from);
  if (!field) return say('The column {from} is not there any more.', { from });
  const [a, b] = [typeOf(field), typeOf(to)];
  if (a.family !== b.family)
    return say('{label} is {a} and cannot fill {other}, {b}.', {
      label: field.label,
      a: withArticle(a),
      other: to.label,
      b: withArticle(b),
    });
  if (a.family === 'link' && field.settings.table !== to.settings.table)
    return say('{label} and {other} link to different tables.', { label: field.label, other: to.label });
  const currencies = [field.settings.currency, to.settings.currency];
  if (currencies.every((one) => one !== undefined) && currencies[0] !== currencies[1])
    return say('{label} is in {currency}, and {other} in {currency2}.', {
      label: field.label,
      currency: String(field.settings.currency),
      other: to.label,
      currency2: String(to.settings.currency),
    });
  return undefined;
}

const bare = (label: string): string => label.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '');

/**
 * The mapping proposed for a fill from `source` into `targets`: pairs of equal labels and fitting types, also of columns
 * one link further (*Owner’s phone*). Labels are compared by their letters and digits; this is a proposal only, nothing
 * depends on the spelling afterwards.
 */
export function proposePairs(tables: Tables, source: TableId, targets: readonly FieldDefinition[]): FillPair[] {
  const own = (tables.get(source)?.fields ?? []).map((field) => ({ field, path: field.id, label: field.label }));
  const beyond = own.flatMap(({ field }) => {
    const linked = linksOne(field) ? tables.get(String(field.settings.table)) : undefined;
    return (linked?.fields ?? []).map((far) => ({
      path: `${field.id}.${far.id}`,
      label: `${field.label}’s ${far.label}`,
    }));
  });
  return targets.flatMap((to) => {
    const from = [...own, ...beyond].find(
      (column) => bare(column.label) === bare(to.label) && !misfit(tables, source, column.path, to),
    );
    return from ? [{ from: from.path, to: to.id, policy: 'replace' as const }] : [];
  });
}
