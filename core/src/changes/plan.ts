import { z } from 'zod';
import { pathSchema } from '../conditions/index.ts';
import { say, sayLater } from '../languages/index.ts';
import { idSchema } from '../tables/index.ts';
import { listingSchema } from '../views/index.ts';

/** Records that can be named one by one in a change of many; more are changed by a filter. */
export const MOST_NAMED = 10_000;
const MOST_FIELDS = 20;

/** What a field becomes: a value, what another field of the record holds, what an expression gives, or blank. */
const becomesSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('value'), value: z.unknown() }),
  /** A field of the record, or one behind its links. */
  z.strictObject({ kind: z.literal('field'), path: pathSchema }),
  /** A CEL expression over the fields of the record, as they were before the change. */
  z.strictObject({ kind: z.literal('calculation'), source: z.string().trim().min(1).max(4_000) }),
  z.strictObject({ kind: z.literal('blank') }),
  /** One word becomes another where it is held, alone or among others. */
  z.strictObject({ kind: z.literal('replace'), from: z.string().min(1).max(2_000), to: z.string().min(1).max(2_000) }),
]);
export type Becomes = z.infer<typeof becomesSchema>;

const settingSchema = z.strictObject({ field: idSchema, becomes: becomesSchema });
export type FieldSetting = z.infer<typeof settingSchema>;

/** Which records: some by number, or all that a list finds, but for some. */
const recordsSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('some'),
    ids: z
      .array(z.int().min(1))
      .min(1, sayLater('Select at least one record.'))
      .max(MOST_NAMED, {
        error: () =>
          say('At most {count} records are named one by one. Select all that a filter finds instead.', {
            count: MOST_NAMED,
          }),
      }),
  }),
  z.strictObject({
    kind: z.literal('all'),
    listing: listingSchema,
    search: z.string().max(200).default(''),
    archived: z.enum(['no', 'yes']).default('no'),
    /** `field:id`: only records whose link points there. */
    linking: z.string().max(200).optional(),
    except: z.array(z.int().min(1)).max(MOST_NAMED).default([]),
  }),
]);
export type ChosenRecords = z.infer<typeof recordsSchema>;

/** A block of texts, such as one copied from a spreadsheet: for each record by number a text for each of the fields. */
const pastedSchema = z.strictObject({
  kind: z.literal('paste'),
  fields: z.array(idSchema).min(1).max(60),
  rows: z.array(z.tuple([z.int().min(1), z.array(z.string().max(20_000)).max(60)])).max(MOST_NAMED, {
    error: () => say('At most {count} rows are pasted at once. Import a file instead.', { count: MOST_NAMED }),
  }),
});
export type PastedRows = z.infer<typeof pastedSchema>;

/** What is done with each of the records. */
const whatSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('set'),
    set: z.array(settingSchema).min(1, sayLater('Choose at least one field.')).max(MOST_FIELDS),
  }),
  pastedSchema,
  z.strictObject({ kind: z.literal('archive') }),
  z.strictObject({ kind: z.literal('restore') }),
]);
export type ChangeOfMany = z.infer<typeof whatSchema>;

/**
 * A change of many records as somebody plans it. Such as: *Waived* becomes yes and *Reason* “Storm”, in all stays that
 * the filter *Harbour is Tern Cove* finds.
 */
export const changePlanSchema = z.strictObject({
  what: whatSchema,
  records: recordsSchema,
  /** What is said to rules that ask, by the rule’s id: once for all records. */
  reasons: z.record(z.string().max(60), z.string().trim().min(1).max(500)).default({}),
});
export type ChangePlan = z.infer<typeof changePlanSchema>;

/** How many records a change of many found, and what becomes of them. */
export interface ChangeCounts {
  readonly found: number;
  readonly change: number;
  /** They are already as they are to become. */
  readonly same: number;
  /** A rule, a right or the database stands against them. */
  readonly refused: number;
}

/** A plan as it is kept once it is written: the texts of a pasted block are in the histories of the records, and only there. */
export const keptPlan = (plan: ChangePlan): ChangePlan =>
  plan.what.kind === 'paste' ? { ...plan, what: { ...plan.what, rows: [] } } : plan;
