import { z } from 'zod';
import { say, sayLater } from '../languages/index.ts';
import { formatDay, noSuchDay, readDay } from './calendar.ts';
import { defineFieldType } from './fieldType.ts';
import { checkRange } from './number.ts';
import { type Parsed, parsed, refused } from './value.ts';

const ISO = /^\d{4}-\d{2}-\d{2}$/;
const day = z
  .string()
  .refine((text) => ISO.test(text) && 'day' in readDay(text), sayLater('This is not a day of the calendar'));
const settings = z.strictObject({ least: day.optional(), most: day.optional() });

function parse(typed: string): Parsed {
  if (typed.trim() === '') return parsed(null);
  const read = readDay(typed);
  if ('day' in read) return parsed(read.day);
  return refused(
    read.wrong === 'calendar'
      ? noSuchDay()
      : say('Type a date, such as {example} or 2026-08-17.', { example: formatDay('2026-08-17') }),
  );
}

export const date = defineFieldType(settings, {
  name: 'date',
  word: sayLater('date'),
  family: 'date',
  group: sayLater('Dates and times'),
  moments: { today: (now) => now.slice(0, 10), now: (now) => now.slice(0, 10) },
  editable: true,
  column: () => 'date',
  parse,
  accept: (json) => {
    if (json === null) return parsed(null);
    return typeof json === 'string' && ISO.test(json)
      ? parse(json)
      : refused(say('This must be a date, such as 2026-08-17.'));
  },
  format: (value) => formatDay(String(value)),
  check: (value, { least, most }) =>
    typeof value === 'string' ? checkRange(value, least, most, (limit) => formatDay(limit)) : [],
});
