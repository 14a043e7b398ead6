import { z } from 'zod';
import { fieldIdSchema } from '../ids.ts';
import { constraintBase, defineConstraintKind, RANGE_FAMILIES, rangeMisfit, sameFields, withTheSame } from './kind.ts';

const schema = z.strictObject({
  kind: z.literal('noOverlap'),
  ...constraintBase,
  same: sameFields,
  from: fieldIdSchema,
  to: fieldIdSchema,
});

/**
 * No two records in use that agree in all of `same` have ranges that overlap. A range ends before its last moment, so
 * that one may begin when another ends; a blank end is open, a blank beginning is not compared.
 */
export const noOverlap = defineConstraintKind<z.infer<typeof schema>>({
  kind: 'noOverlap',
  schema,
  label: 'No two records overlap',
  detail: 'in time or in number',
  sentence: [
    'No two records overlap that have the same ',
    { sets: 'same', label: 'field that must agree', takes: 'fields' },
    ', from ',
    { sets: 'from', label: 'beginning', takes: 'field', families: RANGE_FAMILIES },
    ' to ',
    { sets: 'to', label: 'end', takes: 'field', families: RANGE_FAMILIES },
  ],
  fields: ({ same, from, to }) => [...same, from, to],
  words: ({ same, from, to }, labelOf) =>
    `No two records${withTheSame(same, labelOf)} overlap from ${labelOf(from)} to ${labelOf(to)}`,
  misfit: rangeMisfit,
});
