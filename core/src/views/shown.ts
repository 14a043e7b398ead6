import { z } from 'zod';
import { calendarSettingsSchema, laneSettingsSchema, type PeriodSettings } from '../calendar/index.ts';
import { chartSchema } from '../charts/index.ts';

/** How the records of a listing are shown: as a list of rows, a chart, a calendar, or lanes of a linked table. */
export const shownSchema = z.discriminatedUnion('as', [
  z.strictObject({ as: z.literal('list') }),
  z.strictObject({ as: z.literal('chart'), chart: chartSchema }),
  z.strictObject({ as: z.literal('calendar'), calendar: calendarSettingsSchema }),
  z.strictObject({ as: z.literal('lanes'), lanes: laneSettingsSchema }),
]);
export type Shown = z.infer<typeof shownSchema>;

export const AS_LIST: Shown = { as: 'list' };

/** The fields by which a listing is shown in time; undefined where it is not. */
export const periodSettings = (shown: Shown): PeriodSettings | undefined => {
  if (shown.as === 'calendar') return shown.calendar;
  return shown.as === 'lanes' ? shown.lanes : undefined;
};
