import { z } from 'zod';
import { say, sayCount, sayLater } from '../../languages/index.ts';
import { fieldIdSchema } from '../ids.ts';
import { constraintBase, defineConstraintKind, rangeMisfit, sameFields, withTheSame } from './kind.ts';

const DAYS = ['date', 'dateTime'] as const;

const schema = z.strictObject({
  kind: z.literal('atMost'),
  ...constraintBase,
  most: z
    .number(sayLater('Say how many records may fall on one day.'))
    .int(sayLater('Give a whole number.'))
    .min(1, sayLater('Give at least 1.'))
    .max(100_000, sayLater('Give at most 100,000.')),
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
  label: sayLater('At most so many records on one day'),
  detail: sayLater('places, berths, teams with a capacity'),
  sentence: [
    sayLater('At most '),
    { sets: 'most', label: sayLater('how many records'), takes: 'count' },
    sayLater(' records with the same '),
    { sets: 'same', label: sayLater('field that must agree'), takes: 'fields' },
    sayLater(' fall on one day, from '),
    { sets: 'from', label: sayLater('beginning'), takes: 'field', families: DAYS },
    sayLater(' to '),
    { sets: 'to', label: sayLater('end'), takes: 'field', families: DAYS, nothing: sayLater('that day alone') },
  ],
  fields: ({ same, from, to }) => [...same, from, ...(to === null ? [] : [to])],
  words: ({ most, same, from, to }, labelOf) =>
    sayCount(
      most,
      'At most {count} record{same} falls on one day, {to}',
      'At most {count} records{same} fall on one day, {to}',
      {
        same: withTheSame(same, labelOf),
        to:
          to === null
            ? say('by {from}', { from: labelOf(from) })
            : say('from {from} to {to}', { from: labelOf(from), to: labelOf(to) }),
      },
    ),
  misfit: ({ from, to }, familyOf) =>
    DAYS.some((family) => family === familyOf(from))
      ? to === null
        ? undefined
        : rangeMisfit({ from, to }, familyOf)
      : say('Days are counted by a date or a date and time.'),
});
