import { currentOffice } from './office.ts';
import { writingOf } from './writing.ts';

const formats = new Map<string, Intl.DateTimeFormat>();

/**
 * Some parts of a civil day as the office’s locale writes them: of `2026-09-17` the parts `{ day: 'numeric', month: 'short' }` are
 * `17 Sep`, `{ month: 'long', year: 'numeric' }` are `September 2026`. Short months are those of whole dates.
 */
export function partsOfDay(day: string, parts: Intl.DateTimeFormatOptions): string {
  const { locale } = currentOffice();
  const key = JSON.stringify([locale, parts]);
  const known = formats.get(key);
  const format = known ?? new Intl.DateTimeFormat(`${locale}-u-ca-gregory-nu-latn`, { ...parts, timeZone: 'UTC' });
  formats.set(key, format);
  const short = parts.month === 'short' ? writingOf(locale).months[Number(day.slice(5, 7)) - 1]?.[0] : undefined;
  return format
    .formatToParts(new Date(`${day.slice(0, 10)}T00:00:00Z`))
    .map(({ type, value }) => (type === 'month' && short !== undefined ? short : value))
    .join('');
}
