import { currentOffice } from './office.ts';

/** How a locale writes numbers and dates. */
export interface Writing {
  readonly decimal: '.' | ',';
  /** Between thousands. */
  readonly group: string;
  readonly currencyFirst: boolean;
  readonly order: 'dayFirst' | 'monthFirst' | 'yearFirst';
  /** Short and long names of the twelve months, short ones first. */
  readonly months: readonly (readonly string[])[];
  /** A day in parts, as `Intl` orders them: `month` is the short name. */
  day(year: number, month: number, day: number): string;
}

const known = new Map<string, Writing>();

/** English abbreviates months to three letters throughout; some versions of Unicode's data have “Sept” for September. */
const ENGLISH = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const ENGLISH_LONG = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];

/** Days of the Gregorian calendar in Western digits, whatever the locale’s own custom is: a value is read back from them. */
const plain = (locale: string): string => `${locale}-u-ca-gregory-nu-latn`;

function makeWriting(locale: string): Writing {
  const numbers = new Intl.NumberFormat(plain(locale), { useGrouping: true, minimumFractionDigits: 1 });
  const parts = numbers.formatToParts(12_345_678.5);
  const part = (type: string): string | undefined => parts.find((one) => one.type === type)?.value;
  const money = new Intl.NumberFormat(plain(locale), { style: 'currency', currency: 'EUR' }).formatToParts(1);
  const days = new Intl.DateTimeFormat(plain(locale), {
    year: 'numeric',
    month: 'short',
    day: 'numeric',
    timeZone: 'UTC',
  });
  const english = new Intl.Locale(locale).language === 'en';
  const long = new Intl.DateTimeFormat(plain(locale), { month: 'long', timeZone: 'UTC' });
  const partsOf = (year: number, month: number, day: number) => {
    const at = new Date(Date.UTC(2000, month - 1, day));
    at.setUTCFullYear(year);
    return days.formatToParts(at);
  };
  const shortMonth = (month: number): string =>
    (english ? ENGLISH[month - 1] : partsOf(2026, month, 1).find((one) => one.type === 'month')?.value) ?? '';
  const order = partsOf(2026, 8, 17).map((one) => one.type as string);
  return {
    decimal: part('decimal') === ',' ? ',' : '.',
    group: part('group') ?? ' ',
    currencyFirst: money.findIndex((one) => one.type === 'currency') < money.findIndex((one) => one.type === 'integer'),
    order:
      order.indexOf('year') < order.indexOf('day')
        ? 'yearFirst'
        : order.indexOf('month') < order.indexOf('day')
          ? 'monthFirst'
          : 'dayFirst',
    months: ENGLISH.map((short, at) => [
      shortMonth(at + 1),
      long.format(new Date(Date.UTC(2026, at, 1))),
      short,
      ENGLISH_LONG[at] ?? '',
    ]),
    day: (year, month, day) =>
      partsOf(year, month, day)
        .map(({ type, value }) =>
          type === 'month' && english ? shortMonth(month) : type === 'year' ? String(year).padStart(4, '0') : value,
        )
        .join(''),
  };
}

/** How the office writes numbers and dates, or another locale does. */
export function writingOf(locale: string = currentOffice().locale): Writing {
  const before = known.get(locale);
  if (before) return before;
  const made = makeWriting(locale);
  known.set(locale, made);
  return made;
}

/** A plain number as it stands in files, definitions and expressions: a point, and nothing between thousands. */
export const PLAIN: Pick<Writing, 'decimal' | 'group'> = { decimal: '.', group: '' };

const grouped = (whole: string, mark: string): string => whole.replace(/\B(?=(\d{3})+$)/g, mark);

/** So many digits before the decimal mark, from which on thousands are set apart: 2026 stays one word, 12 345 does not. */
const GROUPED = 10_000;

/**
 * A number as the office writes it, with so many decimal places: 1234.5 with two is `1,234.50` or `1.234,50`. A whole
 * number of four digits is written as it is, since it may be a year.
 */
export function formatNumber(
  value: number,
  places: number,
  writing: Pick<Writing, 'decimal' | 'group'> = writingOf(),
): string {
  const [whole = '', fraction] = value.toFixed(places).split('.');
  const shown = places > 0 || Math.abs(value) >= GROUPED ? grouped(whole, writing.group) : whole;
  return fraction === undefined ? shown : `${shown}${writing.decimal}${fraction}`;
}

/** A limit as the office writes it: with the places of its field, or its own where it has more. */
export const formatLimit = (limit: number, places: number): string =>
  formatNumber(limit, Math.max(places, String(limit).split('.')[1]?.length ?? 0));

/** A count as the office writes it: `4,212`. */
export const formatCount = (count: number): string => grouped(String(Math.trunc(count)), writingOf().group);
