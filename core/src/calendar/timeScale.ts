import { formatDay } from '../fields/index.ts';
import { dayAfter, partsOfDay } from '../office/index.ts';
import { DAY, dayAt, minutesOf, momentAt } from './minutes.ts';
import { mondayOf } from './month.ts';
import type { Interval } from './period.ts';
import { LANE_SPANS, type LaneSpan } from './settings.ts';

/** The time that lanes show: a number of days from one on. */
export const laneWindow = (from: string, span: LaneSpan): Interval => ({
  from: minutesOf(from),
  to: minutesOf(from) + LANE_SPANS[span] * DAY,
});

/** The first day of lanes that show a day near their beginning: a sixth of them lies before it. */
export const windowAround = (day: string, span: LaneSpan): string => dayAfter(day, -Math.floor(LANE_SPANS[span] / 6));

/** The first day after going on in time by half of what is shown, a day at least; backwards where `direction` is -1. */
export const windowBeside = (from: string, span: LaneSpan, direction: 1 | -1): string =>
  dayAfter(from, direction * Math.ceil(LANE_SPANS[span] / 2));

/** The first day of another span that keeps the middle where it is. */
export const windowZoomed = (from: string, span: LaneSpan, to: LaneSpan): string =>
  dayAfter(from, Math.floor(LANE_SPANS[span] / 2) - Math.floor(LANE_SPANS[to] / 2));

/** Where a moment lies in a time that is shown: 0 at its beginning, 1 at its end; what lies outside is at the edge. */
export const positionIn = (shown: Interval, minutes: number): number =>
  Math.min(1, Math.max(0, (minutes - shown.from) / (shown.to - shown.from)));

/** A mark of the time axis. */
export interface TimeTick {
  /** Where it lies, from 0 to 1. */
  readonly at: number;
  readonly text: string;
  /** Begins a month, or at midnight: drawn stronger. */
  readonly strong: boolean;
}

const written = (minutes: number, parts: Intl.DateTimeFormatOptions): string => partsOfDay(dayAt(minutes), parts);

/** A tick takes at least so much of the width, in px. */
const NARROWEST_TICK = 46;

/** The marks of a time axis of some width: hours of a day, days, weeks that begin on Monday, or months. */
export function timeTicks(from: string, span: LaneSpan, width: number): TimeTick[] {
  const shown = laneWindow(from, span);
  const most = Math.max(2, Math.floor(width / NARROWEST_TICK));
  const tick = (minutes: number, text: string, strong: boolean): TimeTick => ({
    at: positionIn(shown, minutes),
    text,
    strong,
  });
  if (span === 'day') {
    const every = [1, 2, 3, 4, 6, 12].find((hours) => 24 / hours <= most) ?? 12;
    return Array.from({ length: 24 / every }, (_, at) => {
      const minutes = shown.from + at * every * 60;
      return tick(minutes, at === 0 ? formatDay(from) : momentAt(minutes).slice(11), at === 0);
    });
  }
  const days = Array.from({ length: LANE_SPANS[span] }, (_, at) => shown.from + at * DAY);
  if (span === 'season' || span === 'year') {
    const months = days.filter((minutes) => dayAt(minutes).endsWith('-01'));
    const every = Math.ceil(months.length / most);
    return months
      .filter((_, at) => at % every === 0)
      .map((minutes) => {
        const year = dayAt(minutes).slice(5, 7) === '01' || minutes === months[0];
        return tick(minutes, written(minutes, { month: 'short', ...(year ? { year: 'numeric' } : {}) }), year);
      });
  }
  const every = [1, 2, 7, 14].find((n) => days.length / n <= most) ?? 14;
  return days
    .filter((minutes) => (every < 7 ? (minutes - shown.from) % (every * DAY) === 0 : isMonday(minutes)))
    .map((minutes, at) => {
      const first = at === 0 || dayAt(minutes).endsWith('-01');
      const parts: Intl.DateTimeFormatOptions = first
        ? { day: 'numeric', month: 'short' }
        : { weekday: span === 'month' ? undefined : 'short', day: 'numeric' };
      return tick(minutes, written(minutes, parts), dayAt(minutes).endsWith('-01'));
    });
}

const isMonday = (minutes: number): boolean => mondayOf(dayAt(minutes)) === dayAt(minutes);
