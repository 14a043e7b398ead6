import { z } from 'zod';
import { fieldIdSchema } from '../ids.ts';
import { constraintBase, defineConstraintKind, listed } from './kind.ts';

const schema = z.strictObject({
  kind: z.literal('unique'),
  ...constraintBase,
  fields: z.array(fieldIdSchema).min(2, 'Choose at least two fields; for one, make the field unique.').max(8),
});

/** No two records have the same values in all of these fields. A record with a blank among them is not compared. */
export const unique = defineConstraintKind<z.infer<typeof schema>>({
  kind: 'unique',
  schema,
  label: 'No two records have the same …',
  detail: 'unique together',
  sentence: ['No two records have the same ', { sets: 'fields', label: 'field that must agree', takes: 'fields' }],
  fields: ({ fields }) => fields,
  words: ({ fields }, labelOf) => `No two records have the same ${listed(fields, labelOf)}`,
  misfit: ({ fields }) => (new Set(fields).size < fields.length ? 'A field is named twice.' : undefined),
});
