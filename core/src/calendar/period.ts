import { z } from 'zod';
import { DAY, minutesOf } from './minutes.ts';

/** What a calendar shows of a record. Its dates are civil days (`2026-08-17`) or moments (`2026-08-17T15:30`). */
export const periodSchema = z.object({
  id: z.number(),
  version: z.number(),
  /** What the record is called. */
  title: z.string(),
  /** What is written on it, where that is something else. */
  label: z.string().nullable(),
  start: z.string(),
  /** Null where it has none: then it lasts on, where it is of a table whose records end. */
  end: z.string().nullable(),
  /** The linked record in whose lane it lies; null in none. */
  lane: z.number().nullable(),
});
export type Period = z.infer<typeof periodSchema>;

/** An interval of time in minutes since 1970; it ends before its last moment, and never where it lasts on. */
export interface Interval {
  readonly from: number;
  readonly to: number;
}

/** What is shown of a moment without an end. */
const MOMENT = 30;

/**
 * The time that a period takes, as the rule against overlaps does: it ends before its last moment, so that another may begin
 * then. A period that ends before it begins is taken the other way round; without an end it lasts on, or is a day or a moment.
 */
export function intervalOf({ start, end }: Pick<Period, 'start' | 'end'>, ends: boolean): Interval {
  const from = minutesOf(start);
  const least = start.length === 10 ? DAY : MOMENT;
  if (end === null) return { from, to: ends ? Number.POSITIVE_INFINITY : from + least };
  const to = minutesOf(end);
  return to === from ? { from, to: from + least } : { from: Math.min(from, to), to: Math.max(from, to) };
}

export const overlap = (one: Interval, other: Interval): boolean => one.from < other.to && other.from < one.to;

/** Those of some periods that overlap another one. */
export function overlapping<P extends Pick<Period, 'id' | 'start' | 'end'>>(
  period: Pick<Period, 'id' | 'start' | 'end'>,
  others: readonly P[],
): P[] {
  const own = intervalOf(period, true);
  return others.filter((other) => other.id !== period.id && overlap(own, intervalOf(other, true)));
}
