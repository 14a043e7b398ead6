import { DAY, dayAt, minutesOf, momentAt } from './minutes.ts';
import type { Period } from './period.ts';
import type { LaneSpan } from './settings.ts';

/** What is moved of a period: all of it, or where it begins or ends. */
export type MovedPart = 'whole' | 'start' | 'end';

/** A period moves in steps of so many minutes: a day’s lanes by the quarter of an hour, longer ones by hours or days. */
export const stepOf = (span: LaneSpan | 'month' | 'week' | 'list', holdsDays: boolean): number => {
  if (holdsDays) return DAY;
  if (span === 'day') return 15;
  return span === 'week' ? 60 : DAY;
};

/** Minutes in whole steps, the nearest. */
export const inSteps = (minutes: number, step: number): number => Math.round(minutes / step) * step;

/**
 * The dates of a period that is moved, or stretched at one end, by some minutes. It never ends before it begins: it keeps at least
 * one step, or what it had where that is less.
 */
export function movedDates(
  { start, end }: Pick<Period, 'start' | 'end'>,
  part: MovedPart,
  by: number,
  step: number,
): Pick<Period, 'start' | 'end'> {
  const shift = (civil: string, minutes: number): string => {
    const at = minutesOf(civil) + minutes;
    return civil.length === 10 ? dayAt(at) : momentAt(at);
  };
  if (part === 'whole') return { start: shift(start, by), end: end === null ? null : shift(end, by) };
  if (end === null) return part === 'start' ? { start: shift(start, by), end } : { start, end };
  const length = minutesOf(end) - minutesOf(start);
  const least = Math.min(step, Math.max(length, 0));
  return part === 'start'
    ? { start: shift(start, Math.min(by, length - least)), end }
    : { start, end: shift(end, Math.max(by, least - length)) };
}

/** A period on its way to another time or lane that is not saved yet. */
export interface PeriodMove {
  readonly period: Period;
  readonly part: MovedPart;
  /** By so many minutes. */
  readonly by: number;
  /** The lane that it is over. */
  readonly lane: number | null;
}

/** The period as it would be if it were put down now. Stretched at an end, it stays in its lane. */
export const movedPeriod = ({ period, part, by, lane }: PeriodMove, step: number): Period => ({
  ...period,
  ...movedDates(period, part, by, step),
  lane: part === 'whole' ? lane : period.lane,
});

/** Whether a period would be somewhere else than it is. */
export const isMoved = ({ period, part, by, lane }: PeriodMove): boolean =>
  by !== 0 || (part === 'whole' && lane !== period.lane);

/** A day begins for a new period at this hour, where its fields hold a time of day: nobody means midnight. */
const NOON = 12 * 60;

/** A day as a new period begins or ends on it: the day itself, or its noon where the fields hold moments. */
export const newDate = (day: string, holdsDays: boolean): string => (holdsDays ? day : momentAt(minutesOf(day) + NOON));

/**
 * The dates of a new period that was drawn from one time to another, in minutes, in whole steps that cover it; at least one step.
 * Steps of days go from noon to noon where the fields hold moments.
 */
export function drawnDates(
  from: number,
  to: number,
  step: number,
  holdsDays: boolean,
): { readonly start: string; readonly end: string } {
  const begin = step === DAY && !holdsDays ? NOON : 0;
  const first = Math.floor((Math.min(from, to) - begin) / step) * step + begin;
  const last = Math.ceil((Math.max(from, to) - begin) / step) * step + begin;
  const civil = (minutes: number): string => (holdsDays ? dayAt(minutes) : momentAt(minutes));
  return { start: civil(first), end: civil(Math.max(last, first + step)) };
}
