import { utcDay, utcMonday, utcMonth, utcYear } from 'd3-time';
import { formatDay } from '../fields/index.ts';
import { say } from '../languages/index.ts';
import { dateDay, dayDate, partsOfDay } from '../office/index.ts';
import type { TimeStep } from './chart.ts';

/** The steps of a chart over time, from the shortest: those that are chosen, and two for what spans many years. */
export const STEPS = ['day', 'week', 'month', 'year', 'decade', 'century'] as const satisfies readonly (
  | TimeStep
  | 'decade'
  | 'century'
)[];
export type Step = (typeof STEPS)[number];

/** How long each step is, in days, about. */
export const STEP_DAYS: Readonly<Record<Step, number>> = {
  day: 1,
  week: 7,
  month: 30.44,
  year: 365.25,
  decade: 3_652.5,
  century: 36_525,
};

/** The next longer step; the longest gives itself. */
export const longerStep = (step: Step): Step => STEPS[Math.min(STEPS.indexOf(step) + 1, STEPS.length - 1)] ?? 'century';

const yearsFrom = (date: Date, years: number): Date => {
  const next = new Date(date);
  next.setUTCFullYear(next.getUTCFullYear() + years);
  return next;
};

/** The first day after the step that a day lies in: of the week of 2026-08-17 it is 2026-08-24. A decade and a century are counted from the day. */
export function nextStep(day: string, step: Step): string {
  const date = dayDate(day);
  switch (step) {
    case 'day':
      return dateDay(utcDay.offset(date, 1));
    case 'week':
      return dateDay(utcMonday.offset(utcMonday.floor(date), 1));
    case 'month':
      return dateDay(utcMonth.offset(utcMonth.floor(date), 1));
    case 'year':
      return dateDay(utcYear.offset(utcYear.floor(date), 1));
    case 'decade':
      return dateDay(yearsFrom(date, 10));
    case 'century':
      return dateDay(yearsFrom(date, 100));
  }
}

/** The step that begins on a day, in words: `Week of 17 Aug 2026`, `August 2026`, `2020 to 2029`. */
export function stepWords(day: string, step: Step): string {
  switch (step) {
    case 'day':
      return formatDay(day);
    case 'week':
      return say('Week of {day}', { day: formatDay(day) });
    case 'month':
      return partsOfDay(day, { month: 'long', year: 'numeric' });
    case 'year':
      return String(dayDate(day).getUTCFullYear());
    default: {
      const first = dayDate(day).getUTCFullYear();
      return say('{first} to {getUTCFullYear}', {
        first,
        getUTCFullYear: dayDate(nextStep(day, step)).getUTCFullYear() - 1,
      });
    }
  }
}
