import { z } from 'zod';
import { EVERYTHING, groupSchema, pathSchema } from '../conditions/index.ts';
import { sayLater } from '../languages/index.ts';
import { fieldIdSchema } from '../tables/index.ts';

/** So much of a calendar is seen at once. */
export const CALENDAR_SPANS = ['month', 'week', 'list'] as const;
export type CalendarSpan = (typeof CALENDAR_SPANS)[number];

/** So much of lanes is seen at once, with the days of each. */
export const LANE_SPANS = { day: 1, week: 7, fortnight: 14, month: 31, season: 92, year: 365 } as const;
export type LaneSpan = keyof typeof LANE_SPANS;

/** The dates of a record that are shown in time. */
const period = {
  start: fieldIdSchema,
  /** Without one a record has a moment, or a day. */
  end: fieldIdSchema.nullable().default(null),
  /** What is written on it; without, what the record is called. */
  label: pathSchema.nullable().default(null),
  /** The form in which a record is opened and a new one is entered, and by which a move is checked; the table’s card without. */
  form: z.string().min(1).max(60).nullable().default(null),
};

export const calendarSettingsSchema = z.strictObject({ ...period, span: z.enum(CALENDAR_SPANS).default('month') });
export type CalendarSettings = z.infer<typeof calendarSettingsSchema>;

/** Lanes: one row for each record that a link can point at, with the periods of the records that link to it. */
export const laneSettingsSchema = z.strictObject({
  ...period,
  lane: fieldIdSchema,
  span: z.enum(Object.keys(LANE_SPANS) as [LaneSpan, ...LaneSpan[]]).default('fortnight'),
  /** Fields of the linked records that stand beside their names. */
  facts: z.array(pathSchema).max(3, sayLater('At most three fields fit beside a name.')).default([]),
  /** Which of the linked records have a lane. */
  where: groupSchema.default(EVERYTHING),
});
export type LaneSettings = z.infer<typeof laneSettingsSchema>;

export type PeriodSettings = Pick<CalendarSettings, 'start' | 'end' | 'label' | 'form'> & { readonly lane?: string };
