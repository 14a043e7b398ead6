import { say } from '../languages/index.ts';
import { civilOf, writingOf } from '../office/index.ts';

const two = (n: number): string => String(n).padStart(2, '0');

/** The ISO 8601 text of a day of the Gregorian calendar, years 1 to 9999; undefined for a day that does not exist. */
function isoDate(year: number, month: number, day: number): string | undefined {
  if (year < 1 || year > 9999 || month < 1 || month > 12 || day < 1) return undefined;
  const leap = (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
  const days = [31, leap ? 29 : 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][month - 1] ?? 0;
  return day > days ? undefined : `${String(year).padStart(4, '0')}-${two(month)}-${two(day)}`;
}

/** A day read from text: its ISO text, or why it is not one. */
type DayRead = { readonly day: string } | { readonly wrong: 'form' | 'calendar' };

/**
 * Reads a day as people of the office type it: `17 Aug 2026`, `17/8/2026`, `17.8.26`, with the month first where the
 * locale has it first (`Aug 17, 2026`, `8/17/2026`), with the locale’s own names of months or the English ones, and
 * always `2026-08-17`. A two-digit year is of this century. A day that does not exist (31 February) is `calendar`, any
 * other text is `form`.
 */
export function readDay(text: string): DayRead {
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(text);
  if (iso) return dayOf(iso[1] ?? '', iso[2] ?? '', iso[3] ?? '');
  const words = text
    .trim()
    .replace(/(\d)(?=\p{L})|(\p{L})(?=\d)/gu, '$1$2 ')
    .split(/[\s./,-]+/u)
    .filter((word) => word !== '' && !JOINING.has(word.toLowerCase()));
  const [first = '', second = '', third = ''] = words;
  if (words.length !== 3) return { wrong: 'form' };
  const named = words.findIndex((word) => /^\p{L}+$/u.test(word));
  if (named < 0) {
    if (!words.every((word) => /^\d+$/.test(word))) return { wrong: 'form' };
    if (first.length === 4) return dayOf(first, second, third);
    return writingOf().order === 'monthFirst' ? dayOf(third, first, second) : dayOf(third, second, first);
  }
  const month = monthNamed(words[named] ?? '');
  if (month === undefined) return { wrong: 'form' };
  const numbers = words.filter((_word, at) => at !== named);
  const [day = '', year = ''] = numbers[0]?.length === 4 ? [numbers[1], numbers[0]] : numbers;
  return dayOf(year, String(month), day);
}

/** Words that stand within a date in some languages: `17 de agosto de 2026`. */
const JOINING = new Set(['de', 'del', 'of', 'the']);

/** A name without accents and case, so that `aout` is read as `août`. */
const bareName = (name: string): string =>
  name
    .normalize('NFD')
    .replace(/[^\p{L}]/gu, '')
    .toLowerCase();

/** The month, 1 to 12, that a word names: in full, or by its first three letters or more. */
function monthNamed(word: string): number | undefined {
  const bare = bareName(word);
  const names = writingOf().months.map((all) => all.map(bareName));
  const whole = names.findIndex((all) => all.includes(bare));
  if (whole >= 0) return whole + 1;
  const begun = names.flatMap((all, at) => (bare.length >= 3 && all.some((name) => name.startsWith(bare)) ? [at] : []));
  return begun.length === 1 ? (begun[0] ?? 0) + 1 : undefined;
}

function dayOf(year: string, month: string, day: string): DayRead {
  if (!/^(\d{4}|\d{2})$/.test(year) || !/^\d{1,2}$/.test(month) || !/^\d{1,2}$/.test(day)) return { wrong: 'form' };
  const found = isoDate(year.length === 2 ? 2000 + Number(year) : Number(year), Number(month), Number(day));
  return found ? { day: found } : { wrong: 'calendar' };
}

/** Reads a time of day, `15:30`, `1530`, `9.05` or `15`, as `HH:MM`; undefined for anything else. */
export function readTime(text: string): string | undefined {
  const found = /^(\d{1,2})(?:[:.h]?(\d{2}))?$/.exec(text.trim());
  if (!found) return undefined;
  const hour = Number(found[1]);
  const minute = Number(found[2] ?? 0);
  return hour > 23 || minute > 59 ? undefined : `${two(hour)}:${two(minute)}`;
}

/** `2026-08-17` as the office writes it: `17 Aug 2026`, `Aug 17, 2026`, `17. Aug. 2026`. */
export function formatDay(iso: string, locale?: string): string {
  const [year, month, day] = iso.split('-').map(Number);
  return writingOf(locale).day(year ?? 1, month ?? 1, day ?? 1);
}

export const noSuchDay = (): string => say('There is no such day in the calendar.');

/** A moment, ISO 8601 with a zone, as people read it in the office’s time zone: `12 Mar 2026, 09:14`. */
export function formatMoment(iso: string): string {
  const civil = civilOf(new Date(iso));
  return `${formatDay(civil.slice(0, 10))}, ${civil.slice(11)}`;
}
