import { z } from 'zod';
import { formatCount } from '../../office/index.ts';
import { fieldIdSchema } from '../ids.ts';
import { constraintBase, defineConstraintKind, rangeMisfit, sameFields, withTheSame } from './kind.ts';

const DAYS = ['date', 'dateTime'] as const;

const schema = z.strictObject({
  kind: z.literal('atMost'),
  ...constraintBase,
  most: z
    .number('Say how many records may fall on one day.')
    .int('Give a whole number.')
    .min(1, 'Give at least 1.')
    .max(100_000, 'Give at most 100,000.'),
  same: sameFields,
  from: fieldIdSchema,
  to: fieldIdSchema.nullable().default(null),
});

/**
 * At most so many records in use that agree in all of `same` fall on one day: the day of `from`, or every day from it
 * to `to`. A range of dates ends before its last day, as for overlaps; one of moments covers every day it touches. A
 * blank end is open; a record with a blank among `same` or `from` is not counted.
 */
export const atMost = defineConstraintKind<z.infer<typeof schema>>({
  kind: 'atMost',
  schema,
  label: 'At most so many records on one day',
  detail: 'places, berths, teams with a capacity',
  sentence: [
    'At most ',
    { sets: 'most', label: 'how many records', takes: 'count' },
    ' records with the same ',
    { sets: 'same', label: 'field that must agree', takes: 'fields' },
    ' fall on one day, from ',
    { sets: 'from', label: 'beginning', takes: 'field', families: DAYS },
    ' to ',
    { sets: 'to', label: 'end', takes: 'field', families: DAYS, nothing: 'that day alone' },
  ],
  fields: ({ same, from, to }) => [...same, from, ...(to === null ? [] : [to])],
  words: ({ most, same, from, to }, labelOf) =>
    `At most ${formatCount(most)} ${most === 1 ? 'record' : 'records'}${withTheSame(same, labelOf)} ${most === 1 ? 'falls' : 'fall'} on one day, ${to === null ? `by ${labelOf(from)}` : `from ${labelOf(from)} to ${labelOf(to)}`}`,
  misfit: ({ from, to }, familyOf) =>
    DAYS.some((family) => family === familyOf(from))
      ? to === null
        ? undefined
        : rangeMisfit({ from, to }, familyOf)
      : 'Days are counted by a date or a date and time.',
});
