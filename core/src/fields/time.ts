import { z } from 'zod';
import { say, sayLater } from '../languages/index.ts';
import { readTime } from './calendar.ts';
import { defineFieldType } from './fieldType.ts';
import { checkRange } from './number.ts';
import { type Parsed, parsed, refused } from './value.ts';

const ISO = /^([01]\d|2[0-3]):[0-5]\d$/;
const moment = z.string().regex(ISO, sayLater('This is not a time such as 15:30'));
const settings = z.strictObject({ least: moment.optional(), most: moment.optional() });

function parse(typed: string): Parsed {
  if (typed.trim() === '') return parsed(null);
  const read = readTime(typed.trim().replace(/:[0-5]\d$/, (seconds, at: number) => (at > 2 ? '' : seconds)));
  return read ? parsed(read) : refused(say('Type a time of day, such as 15:30.'));
}

/** A time of day, to the minute: `15:30`. */
export const time = defineFieldType(settings, {
  name: 'time',
  word: sayLater('time'),
  family: 'time',
  group: sayLater('Dates and times'),
  moments: { now: (now) => now.slice(11, 16) },
  editable: true,
  column: () => 'time(0)',
  parse,
  accept: (json) => {
    if (json === null) return parsed(null);
    return typeof json === 'string' && ISO.test(json)
      ? parsed(json)
      : refused(say('This must be a time, such as 15:30.'));
  },
  format: String,
  check: (value, { least, most }) => (typeof value === 'string' ? checkRange(value, least, most, String) : []),
  stored: (json) => String(json).slice(0, 5),
});
