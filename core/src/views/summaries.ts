import type { Value } from '../fields/index.ts';
import { sayLater } from '../languages/index.ts';
import { formatCount, formatNumber } from '../office/index.ts';
import { typeOf } from '../tables/index.ts';
import { isCalculated } from './calculated.ts';
import type { KnownColumn } from './columns.ts';
import { SUMMARIES, type Summary } from './view.ts';

export const SUMMARY_LABELS: Readonly<Record<Summary, string>> = {
  filled: sayLater('filled'),
  sum: sayLater('sum'),
  average: sayLater('average'),
  least: sayLater('least'),
  most: sayLater('most'),
};

const ORDERED: readonly string[] = ['number', 'date', 'dateTime', 'time'];

/** The summaries that a column can have: what is filled of any field, more of numbers, dates and times. */
export function summariesOf({ path, field }: KnownColumn): readonly Summary[] {
  // What is calculated as it is read is not there for the database to sum.
  if (field === undefined || isCalculated(path)) return [];
  const { family } = typeOf(field);
  if (family === 'number') return SUMMARIES;
  return ORDERED.includes(family) ? ['filled', 'least', 'most'] : ['filled'];
}

/** At most so many decimal places of an average of numbers that have fewer. */
const AVERAGE_PLACES = 2;

/** A summary as people read it: like the values of its column, a count as a count. */
export function formatSummary({ field }: KnownColumn, summary: Summary, value: Value): string {
  if (value === null || field === undefined) return '';
  if (summary === 'filled') return formatCount(Number(value));
  if (summary === 'average' && typeOf(field).column(field.settings) === 'bigint')
    return formatNumber(Number(value), AVERAGE_PLACES);
  return typeOf(field).format(value, field.settings);
}
