import { z } from 'zod';
import { laneSettingsSchema, periodSchema } from '../calendar/index.ts';
import { fieldType } from '../fields/index.ts';
import { listingSchema } from '../views/index.ts';
import { contract } from './contract.ts';
import { ofListing } from './onCharts.ts';
import { answersInAddress, empty, nothing } from './shapes.ts';

/** More periods than these are no overview: a shorter time has to be looked at. */
export const MOST_PERIODS = 5_000;
/** So many free lanes are named; the others are counted. */
export const MOST_FREE = 2_000;

const day = z
  .string()
  .refine((text) => fieldType('date').accept(text, {}).ok, 'This is not a day, such as 2026-08-17.');
const moment = z
  .string()
  .refine(
    (text) => fieldType('dateTime').accept(text, {}).ok || fieldType('date').accept(text, {}).ok,
    'This is not a day or a moment, such as 2026-08-17T15:30.',
  );

/** From the beginning of a day to the beginning of another. */
const span = { from: day, to: day };

const periodsAnswer = z.object({
  periods: z.array(periodSchema),
  /** There are more than `MOST_PERIODS` of them: those that begin first are here. */
  more: z.boolean(),
});
export type PeriodsAnswer = z.infer<typeof periodsAnswer>;

export const viewPeriods = contract({
  method: 'GET',
  path: '/api/tables/{table}/views/{view}/periods',
  summary: 'What a view that is shown as a calendar or as lanes has in a time',
  needs: 'see',
  query: z.object({ ...ofListing, ...span, asked: answersInAddress }),
  body: nothing,
  answer: periodsAnswer,
});

export const listPeriods = contract({
  method: 'POST',
  path: '/api/tables/{table}/periods',
  summary: 'The same of a listing that is no view yet',
  needs: 'see',
  reads: true,
  query: empty,
  body: z.strictObject({ ...ofListing, ...span, listing: listingSchema }),
  answer: periodsAnswer,
});

export const freeLanes = contract({
  method: 'POST',
  path: '/api/tables/{table}/free-lanes',
  summary: 'The records of a linked table that no record links to in a time',
  needs: 'see',
  reads: true,
  query: empty,
  body: z.strictObject({
    from: moment,
    to: moment,
    ...laneSettingsSchema.pick({ start: true, end: true, lane: true, where: true }).shape,
  }),
  answer: z.object({
    lanes: z.array(z.object({ id: z.number(), title: z.string() })),
    total: z.number(),
  }),
});
export type FreeLanes = z.infer<typeof freeLanes.answer>;
