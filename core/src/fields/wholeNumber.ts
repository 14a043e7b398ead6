import { z } from 'zod';
import { say, sayLater } from '../languages/index.ts';
import { formatNumber } from '../office/index.ts';
import { defineFieldType } from './fieldType.ts';
import { checkRange, readNumber } from './number.ts';
import { roundBy } from './rounding.ts';
import { type Parsed, parsed, refused } from './value.ts';

/** 15 digits: exact in a double and in PostgreSQL's bigint alike. */
const LARGEST = 999_999_999_999_999;

const limit = z.int().min(-LARGEST).max(LARGEST).optional();
const settings = z.strictObject({ least: limit, most: limit, unit: z.string().max(20).optional() });

function accept(json: unknown): Parsed {
  if (json === null) return parsed(null);
  if (typeof json !== 'number' || !Number.isInteger(json)) return refused(say('Type a whole number, such as 12.'));
  if (Math.abs(json) > LARGEST) return refused(say('This number is too large: at most 15 digits fit.'));
  return parsed(json === 0 ? 0 : json);
}

export const wholeNumber = defineFieldType(settings, {
  name: 'wholeNumber',
  word: sayLater('whole number'),
  family: 'number',
  group: 'Numbers',
  editable: true,
  column: () => 'bigint',
  parse: (typed, { unit }, writing) => {
    const bare = unit && typed.trim().endsWith(unit) ? typed.trim().slice(0, -unit.length) : typed;
    if (bare.trim() === '') return parsed(null);
    return accept(readNumber(bare, writing));
  },
  accept,
  format: (value, { unit }) => `${formatNumber(Number(value), 0)}${unit ? ` ${unit}` : ''}`,
  check: (value, { least, most }) =>
    typeof value === 'number' ? checkRange(value, least, most, (one) => formatNumber(one, 0)) : [],
  round: (value) => roundBy(value, 0, 'halfUp'),
});
