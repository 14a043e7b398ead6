import { z } from 'zod';
import { isBlank, isNumbered, isSeveral, itemsOf, type Value, type Values } from '../fields/index.ts';
import { say, sayLater } from '../languages/index.ts';
import { type FieldDefinition, type FieldId, fieldIdSchema, type RecordId, typeOf } from '../tables/index.ts';

/** So many records at most become one at once. */
export const MOST_MERGED = 20;

/** From which record the value of a field comes; of a field with several values, those of all records together. */
const valueSourceSchema = z.union([z.int().min(1), z.literal('all')]);
export type ValueSource = z.infer<typeof valueSourceSchema>;

/** Records that become one. */
export const mergeSchema = z.strictObject({
  /** The record that stays. */
  stays: z.int().min(1),
  /** All of the records, the one that stays among them, each at the version at which it was looked at. */
  records: z
    .array(z.strictObject({ id: z.int().min(1), version: z.int().min(1) }))
    .min(2, sayLater('Choose at least two records.'))
    .max(MOST_MERGED, { error: () => say('At most {count} records are merged at once.', { count: MOST_MERGED }) }),
  /** By field; a field that is not named keeps what the record has that stays. */
  valuesFrom: z.record(fieldIdSchema, valueSourceSchema),
});
export type MergePlan = z.infer<typeof mergeSchema>;

/** A record as a merge reads it. */
export interface MergedRecord {
  readonly id: RecordId;
  readonly values: Values;
}

/**
 * Whether somebody can choose from which record the value of a field comes. What the system gives, and what must be different in each
 * record, stays that of the record that stays: the others keep theirs when they are archived.
 */
export const isChoosable = (field: FieldDefinition): boolean =>
  typeOf(field).editable && !field.unique && !isNumbered(field) && field.calculation === null;

/** Where the value of each field comes from to begin with: that of the record that stays, or the first that is there; lists of all together. */
export function proposeSources(
  fields: readonly FieldDefinition[],
  records: readonly MergedRecord[],
  stays: RecordId,
): Record<FieldId, ValueSource> {
  const first = [...records].sort((a, b) => Number(b.id === stays) - Number(a.id === stays));
  return Object.fromEntries(
    fields.filter(isChoosable).flatMap((field): [FieldId, ValueSource][] => {
      const filled = first.filter((record) => !isBlank(record.values[field.id]));
      if (isSeveral(field) && filled.length > 1) return [[field.id, 'all']];
      return filled[0] ? [[field.id, filled[0].id]] : [];
    }),
  );
}

/** The values that the record that stays gets, by the fields whose values come from another one; each list without what is in it twice. */
export function mergedValues(
  fields: readonly FieldDefinition[],
  records: readonly MergedRecord[],
  { stays, valuesFrom }: Pick<MergePlan, 'stays' | 'valuesFrom'>,
): Values {
  const byId = new Map(records.map((record) => [record.id, record]));
  const all = [...records].sort((a, b) => Number(b.id === stays) - Number(a.id === stays));
  return Object.fromEntries(
    fields.filter(isChoosable).flatMap((field): [FieldId, Value][] => {
      const source = valuesFrom[field.id];
      if (source === undefined || source === stays) return [];
      if (source !== 'all') return [[field.id, byId.get(source)?.values[field.id] ?? null]];
      if (!isSeveral(field)) return [];
      const items = [...new Set(all.flatMap((record) => itemsOf(record.values[field.id] ?? null)))];
      return [[field.id, items.length === 0 ? null : (items as Value)]];
    }),
  );
}
