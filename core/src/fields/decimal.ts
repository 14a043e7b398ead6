import { z } from 'zod';
import { formatNumber } from '../office/index.ts';
import { defineFieldType } from './fieldType.ts';
import { checkRange, readNumber } from './number.ts';
import { roundBy } from './rounding.ts';
import { type Parsed, parsed, refused } from './value.ts';

const settings = z.strictObject({
  /** Digits after the decimal mark, 0 to 6. */
  places: z.int().min(0).max(6).default(2),
  unit: z.string().max(20).optional(),
  least: z.number().optional(),
  most: z.number().optional(),
});
type DecimalSettings = z.infer<typeof settings>;

/** Significant digits that a double holds exactly. */
const DIGITS = 15;

function accept(json: unknown, { places }: DecimalSettings): Parsed {
  if (json === null) return parsed(null);
  if (typeof json !== 'number' || !Number.isFinite(json))
    return refused(`Type a number, such as ${formatNumber(12.5, 1)}.`);
  if (Math.abs(json) >= 10 ** (DIGITS - places))
    return refused(`This number is too large: at most ${DIGITS - places} digits before the decimal point fit.`);
  const rounded = Number(json.toFixed(places));
  if (rounded !== json) return refused(`At most ${places} decimal places fit, such as ${formatNumber(12.5, places)}.`);
  return parsed(rounded === 0 ? 0 : rounded);
}

export const decimal = defineFieldType(settings, {
  name: 'decimal',
  word: 'decimal',
  family: 'number',
  editable: true,
  column: ({ places }) => `numeric(${DIGITS},${places})`,
  parse: (typed, s, writing) => {
    const bare = s.unit && typed.trim().endsWith(s.unit) ? typed.trim().slice(0, -s.unit.length) : typed;
    if (bare.trim() === '') return parsed(null);
    return accept(readNumber(bare, writing), s);
  },
  accept,
  format: (value, { places, unit }) => `${formatNumber(Number(value), places)}${unit ? ` ${unit}` : ''}`,
  check: (value, { least, most, places, unit }) =>
    typeof value === 'number'
      ? checkRange(value, least, most, (limit) => `${formatNumber(limit, places)}${unit ? ` ${unit}` : ''}`)
      : [],
  round: (value, { places }) => roundBy(value, places, 'halfUp'),
});
