import { utcMonday, utcMonth } from 'd3-time';
import { dateDay, dayAfter, dayDate } from '../office/index.ts';
import { DAY, dayAt, minutesOf } from './minutes.ts';
import { intervalOf, type Period } from './period.ts';

/** The Monday on or before a day (ISO 8601 begins weeks on Monday). */
export const mondayOf = (day: string): string => dateDay(utcMonday.floor(dayDate(day)));

/** The first day of the month that a day lies in. */
export const monthOf = (day: string): string => dateDay(utcMonth.floor(dayDate(day)));

/** The first day of the month so many months after that of a day. */
export const monthAfter = (day: string, months: number): string =>
  dateDay(utcMonth.offset(utcMonth.floor(dayDate(day)), months));

/** The Mondays of the weeks that a month lies in: four to six. */
export function weeksOfMonth(day: string): string[] {
  const after = monthAfter(day, 1);
  const weeks: string[] = [];
  for (let monday = mondayOf(monthOf(day)); monday < after; monday = dayAfter(monday, 7)) weeks.push(monday);
  return weeks;
}

/** The days that a period is shown on, first and last. A moment of the last day counts, midnight does not; without an end it goes on. */
export function daysOf(period: Pick<Period, 'start' | 'end'>, ends: boolean): { first: string; last: string | null } {
  const { start, end } = period;
  // Days are shown through the last one, as people write them.
  if (start.length === 10 && end !== null) return { first: start < end ? start : end, last: start < end ? end : start };
  const { from, to } = intervalOf(period, ends);
  return { first: dayAt(from), last: Number.isFinite(to) ? dayAt(to - 1) : null };
}

/** A period in one week: in which row, from which to which of its days (0 to 6), and whether it goes on beyond them. */
export interface WeekSegment {
  readonly period: Period;
  readonly row: number;
  readonly from: number;
  readonly to: number;
  readonly begins: boolean;
  readonly ends: boolean;
}

/** The periods of a week in rows, the longer ones of a day first; `hidden` counts for each day those that do not fit in `rows`. */
export function placeInWeek(
  monday: string,
  periods: readonly Period[],
  ends: boolean,
  rows: number,
): { readonly segments: readonly WeekSegment[]; readonly hidden: readonly number[]; readonly used: number } {
  const begin = minutesOf(monday);
  const dayIn = (day: string): number => Math.round((minutesOf(day) - begin) / DAY);
  const found = periods
    .map((period) => {
      const { first, last } = daysOf(period, ends);
      return { period, from: dayIn(first), to: last === null ? Number.POSITIVE_INFINITY : dayIn(last) };
    })
    .filter(({ from, to }) => from <= 6 && to >= 0)
    .sort((a, b) => a.from - b.from || b.to - a.to || (a.period.start < b.period.start ? -1 : 1));
  const free: number[] = [];
  const hidden = Array.from({ length: 7 }, () => 0);
  const segments: WeekSegment[] = [];
  for (const { period, from, to } of found) {
    const [first, last] = [Math.max(0, from), Math.min(6, to)];
    const open = free.findIndex((after) => after <= first);
    const row = open < 0 ? free.length : open;
    free[row] = last + 1;
    if (row < rows) segments.push({ period, row, from: first, to: last, begins: from >= 0, ends: to <= 6 });
    else for (let day = first; day <= last; day++) hidden[day] = (hidden[day] ?? 0) + 1;
  }
  return { segments, hidden, used: Math.min(rows, free.length) };
}
