const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

const two = (n: number): string => String(n).padStart(2, '0');

/** The ISO 8601 text of a day of the Gregorian calendar, years 1 to 9999; undefined for a day that does not exist. */
export function isoDate(year: number, month: number, day: number): string | undefined {
  if (year < 1 || year > 9999 || month < 1 || month > 12 || day < 1) return undefined;
  const leap = (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
  const days = [31, leap ? 29 : 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][month - 1] ?? 0;
  return day > days ? undefined : `${String(year).padStart(4, '0')}-${two(month)}-${two(day)}`;
}

/** A day read from text: its ISO text, or why it is not one. */
export type DayRead = { readonly day: string } | { readonly wrong: 'form' | 'calendar' };

/**
 * Reads a day as people type it, day first: `17 Aug 2026`, `17/8/2026`, `17.8.26`, `2026-08-17`. A two-digit year is
 * of this century. A day that does not exist (31 February) is `calendar`, any other text is `form`.
 */
export function readDay(text: string): DayRead {
  const plain = text.trim();
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(plain);
  if (iso) return dayOf(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  const numbers = /^(\d{1,2})[\s./-](\d{1,2})[\s./-](\d{4}|\d{2})$/.exec(plain);
  if (numbers) return dayOf(fullYear(numbers[3]), Number(numbers[2]), Number(numbers[1]));
  const named = /^(\d{1,2})[\s.-]*([A-Za-z]{3,9})[\s.-]*(\d{4}|\d{2})$/.exec(plain);
  if (!named) return { wrong: 'form' };
  const word = (named[2] ?? '').slice(0, 3).toLowerCase();
  const month = MONTHS.findIndex((name) => name.toLowerCase() === word);
  return month < 0 ? { wrong: 'form' } : dayOf(fullYear(named[3]), month + 1, Number(named[1]));
}

const fullYear = (digits = ''): number => (digits.length === 2 ? 2000 + Number(digits) : Number(digits));

function dayOf(year: number, month: number, day: number): DayRead {
  const found = isoDate(year, month, day);
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

/** `2026-08-17` as `17 Aug 2026`. */
export function formatDay(iso: string): string {
  const [year, month, day] = iso.split('-').map(Number);
  return `${day} ${MONTHS[(month ?? 1) - 1]} ${String(year).padStart(4, '0')}`;
}

export const NO_SUCH_DAY = 'There is no such day in the calendar.';
