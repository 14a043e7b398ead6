import { z } from 'zod';
import { say, sayLater } from '../languages/index.ts';
import { defineFieldType } from './fieldType.ts';
import { readNumber } from './number.ts';
import { type Parsed, parsed, refused } from './value.ts';

const settings = z.strictObject({
  /** The best rating; the least is 1. */
  most: z.int().min(2).max(10).default(5),
});

function accept(json: unknown, { most }: z.infer<typeof settings>): Parsed {
  if (json === null) return parsed(null);
  return typeof json === 'number' && Number.isInteger(json) && json >= 1 && json <= most
    ? parsed(json)
    : refused(say('Give a rating from 1 to {most}, such as {example}.', { most, example: Math.ceil(most / 2) }));
}

/** How good something is, 1 to the best: shown as `4 of 5`. */
export const rating = defineFieldType(settings, {
  name: 'rating',
  word: sayLater('rating'),
  family: 'number',
  group: 'Numbers',
  settingWords: ({ most }) => `, 1 to ${most ?? 5}`,
  editable: true,
  column: () => 'bigint',
  parse: (typed, s) => {
    const bare = typed.trim().replace(/\s*(of|\/)\s*\d+$/i, '');
    return bare === '' ? parsed(null) : accept(readNumber(bare), s);
  },
  accept,
  format: (value, { most }) => say('{value} of {most}', { value: Number(value), most }),
  check: (value, s) => {
    const read = accept(value, s);
    return read.ok ? [] : [{ rule: 'most', message: read.message }];
  },
});
