import { formatNumber, type Writing, writingOf } from './writing.ts';

/** Signs that belong to one currency alone; others are written by their code, as a bare $ can be many. */
const SIGNS: Readonly<Record<string, string>> = { EUR: '€', GBP: '£', INR: '₹', ILS: '₪', KRW: '₩', VND: '₫' };

/** How many decimal places the amounts of a currency have (ISO 4217): 2 for EUR, 0 for JPY, 3 for KWD. */
export const currencyPlaces = (currency: string): number =>
  new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2;

/** An amount as the office writes it: `€1,234.50`, `1.234,50 €`, `CHF 12.00`. */
export function formatAmount(amount: number, currency: string, places: number, writing: Writing = writingOf()): string {
  const number = formatNumber(Math.abs(amount), places, writing);
  const sign = SIGNS[currency];
  const minus = amount < 0 ? '-' : '';
  if (!writing.currencyFirst) return `${minus}${number} ${sign ?? currency}`;
  return `${minus}${sign ?? `${currency} `}${number}`;
}

/** The text of an amount without its currency, by sign or code, before or behind the number. */
export function withoutCurrency(text: string, currency: string): string {
  const bare = text.trim();
  for (const mark of [SIGNS[currency], currency])
    for (const minus of ['', '-', '−', '–'])
      if (mark !== undefined && bare.toUpperCase().startsWith(minus + mark))
        return minus + bare.slice(minus.length + mark.length).trim();
      else if (mark !== undefined && bare.toUpperCase().endsWith(mark)) return bare.slice(0, -mark.length).trim();
  return bare;
}

/** The currency whose sign stands in a text; undefined where there is none. */
export const currencyIn = (text: string): string | undefined =>
  Object.keys(SIGNS).find((code) => text.includes(SIGNS[code] ?? '')) ??
  Object.keys(SIGNS).find((code) => new RegExp(`(^|[\\d\\s])${code}($|[\\d\\s])`).test(text));
