import { z } from 'zod';
import { sayLater } from '../languages/index.ts';
import { formatLimit, formatNumber } from '../office/index.ts';
import { decimal } from './decimal.ts';
import { defineFieldType } from './fieldType.ts';
import { checkRange } from './number.ts';
import { roundBy } from './rounding.ts';

const settings = z.strictObject({
  places: z.int().min(0).max(6).default(0),
  least: z.number().optional(),
  most: z.number().optional(),
});

const bare = (typed: string): string => typed.replace(/\s*%\s*$/, '');

/** A share in hundredths: 12.5 % is kept as 12.5, so that what is typed, shown and stored is the same number. */
export const percent = defineFieldType(settings, {
  name: 'percent',
  word: sayLater('percent'),
  family: 'number',
  group: 'Numbers',
  editable: true,
  column: (s) => decimal.column(s),
  parse: (typed, s, writing) => decimal.parse(bare(typed), s, writing),
  accept: (json, s) => decimal.accept(json, s),
  format: (value, { places }) => `${formatNumber(Number(value), places)} %`,
  check: (value, { least, most, places }) =>
    typeof value === 'number' ? checkRange(value, least, most, (limit) => `${formatLimit(limit, places)} %`) : [],
  round: (value, { places }) => roundBy(value, places, 'halfUp'),
});
