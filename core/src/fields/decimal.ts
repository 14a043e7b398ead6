import { z } from 'zod';
import { say, sayLater } from '../languages/index.ts';
import { formatLimit, formatNumber } from '../office/index.ts';
import { defineFieldType } from './fieldType.ts';
import { acceptDecimal, checkRange, DECIMAL_DIGITS, readNumber } from './number.ts';
import { roundBy } from './rounding.ts';
import { type Parsed, parsed } from './value.ts';

const settings = z.strictObject({
  /** Digits after the decimal mark, 0 to 6. */
  places: z.int().min(0).max(6).default(2),
  unit: z.string().max(20).optional(),
  least: z.number().optional(),
  most: z.number().optional(),
});
type DecimalSettings = z.infer<typeof settings>;

const accept = (json: unknown, { places }: DecimalSettings): Parsed =>
  acceptDecimal(
    json,
    places,
    (example) => say('Type a number, such as {example}.', { example }),
    (some) => formatNumber(12.5, some),
  );

export const decimal = defineFieldType(settings, {
  name: 'decimal',
  word: sayLater('decimal'),
  family: 'number',
  group: 'Numbers',
  starting: () => ({ places: 2 }),
  settingWords: ({ places }) => `, ${places} ${places === 1 ? 'place' : 'places'}`,
  editable: true,
  column: ({ places }) => `numeric(${DECIMAL_DIGITS},${places})`,
  parse: (typed, s, writing) => {
    const bare = s.unit && typed.trim().endsWith(s.unit) ? typed.trim().slice(0, -s.unit.length) : typed;
    if (bare.trim() === '') return parsed(null);
    return accept(readNumber(bare, writing), s);
  },
  accept,
  format: (value, { places, unit }) => `${formatNumber(Number(value), places)}${unit ? ` ${unit}` : ''}`,
  check: (value, { least, most, places, unit }) =>
    typeof value === 'number'
      ? checkRange(value, least, most, (limit) => `${formatLimit(limit, places)}${unit ? ` ${unit}` : ''}`)
      : [],
  round: (value, { places }) => roundBy(value, places, 'halfUp'),
});
