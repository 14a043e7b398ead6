import { z } from 'zod';
import { say, sayLater } from '../../languages/index.ts';
import { fieldIdSchema } from '../ids.ts';
import { constraintBase, defineConstraintKind, listed } from './kind.ts';

const schema = z.strictObject({
  kind: z.literal('unique'),
  ...constraintBase,
  fields: z.array(fieldIdSchema).min(2, sayLater('Choose at least two fields; for one, make the field unique.')).max(8),
});

/** No two records have the same values in all of these fields. A record with a blank among them is not compared. */
export const unique = defineConstraintKind<z.infer<typeof schema>>({
  kind: 'unique',
  schema,
  label: sayLater('No two records have the same …'),
  detail: sayLater('unique together'),
  sentence: [
    sayLater('No two records have the same '),
    { sets: 'fields', label: sayLater('field that must agree'), takes: 'fields' },
  ],
  fields: ({ fields }) => fields,
  words: ({ fields }, labelOf) => say('No two records have the same {fields}', { fields: listed(fields, labelOf) }),
  misfit: ({ fields }) => (new Set(fields).size < fields.length ? say('A field is named twice.') : undefined),
});
