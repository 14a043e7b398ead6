import { z } from 'zod';
import { say, sayLater } from '../../languages/index.ts';
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
  label: sayLater('No two records overlap'),
  detail: sayLater('in time or in number'),
  sentence: [
    sayLater('No two records overlap that have the same '),
    { sets: 'same', label: sayLater('field that must agree'), takes: 'fields' },
    sayLater(', from '),
    { sets: 'from', label: sayLater('beginning'), takes: 'field', families: RANGE_FAMILIES },
    sayLater(' to '),
    { sets: 'to', label: sayLater('end'), takes: 'field', families: RANGE_FAMILIES },
  ],
  fields: ({ same, from, to }) => [...same, from, to],
  words: ({ same, from, to }, labelOf) =>
    say('No two records{same} overlap from {from} to {to}', {
      same: withTheSame(same, labelOf),
      from: labelOf(from),
      to: labelOf(to),
    }),
  misfit: rangeMisfit,
});
