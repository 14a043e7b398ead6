import { z } from 'zod';
import { say, sayLater } from '../languages/index.ts';
import { formatDay, noSuchDay, readDay, readTime } from './calendar.ts';
import { defineFieldType } from './fieldType.ts';
import { checkRange } from './number.ts';
import { type Parsed, parsed, refused } from './value.ts';

const ISO = /^(\d{4}-\d{2}-\d{2})T([01]\d|2[0-3]):([0-5]\d)$/;

const moment = z
  .string()
  .refine((text) => ISO.test(text), sayLater('This is not a date-time such as 2026-08-17T15:30'));
const settings = z.strictObject({ least: moment.optional(), most: moment.optional() });

const show = (iso: string): string => `${formatDay(iso.slice(0, 10))}, ${iso.slice(11)}`;

/** Reads a civil date and time as it is typed in the office’s locale: `17.8.2026 15:30`. */
export function parseDateTime(typed: string): Parsed {
  const plain = typed.trim();
  if (plain === '') return parsed(null);
  const wrong = () => refused(say('Type a date and a time, such as {example}.', { example: show('2026-08-17T15:30') }));
  const split = /^(.*?)(?:\s*[,T]\s*|\s+)(\d{1,2}(?:[:.h]?\d{2})?)$/.exec(plain);
  if (!split) return wrong();
  const read = readDay(split[1] ?? '');
  if (!('day' in read)) return read.wrong === 'calendar' ? refused(noSuchDay()) : wrong();
  const time = readTime(split[2] ?? '');
  return time ? parsed(`${read.day}T${time}`) : refused(say('There is no such time of day: type one such as 15:30.'));
}

/** A civil date and time of the office, to the minute, without a zone: what is written on the berth's card. */
export const dateTime = defineFieldType(settings, {
  name: 'dateTime',
  word: sayLater('date and time'),
  family: 'dateTime',
  group: sayLater('Dates and times'),
  moments: { today: (now) => `${now.slice(0, 10)}T00:00`, now: (now) => now },
  editable: true,
  column: () => 'timestamp(0)',
  parse: parseDateTime,
  accept: (json) => {
    if (json === null) return parsed(null);
    if (typeof json !== 'string' || !ISO.test(json))
      return refused(say('This must be a date-time, such as 2026-08-17T15:30.'));
    return parseDateTime(json);
  },
  format: (value) => show(String(value)),
  check: (value, { least, most }) => (typeof value === 'string' ? checkRange(value, least, most, show) : []),
  stored: (json) => String(json).slice(0, 16),
});
