import { z } from 'zod';
import { pathSchema } from '../conditions/index.ts';
import { labelSchema } from '../tables/index.ts';
import { listingSchema } from '../views/index.ts';
import { contract } from './contract.ts';
import { recordFilter } from './onRecords.ts';
import { empty, nothing } from './shapes.ts';

const calendarShape = {
  /** What the calendar is called. */
  label: labelSchema,
  listing: listingSchema,
  search: recordFilter.search,
  begins: pathSchema,
  ends: pathSchema.optional(),
};
export const calendarSchema = z.strictObject(calendarShape);
export type CalendarDefinition = z.infer<typeof calendarSchema>;
const calendarView = z.object({
  id: z.number(),
  label: z.string(),
  /** In words: `Arrival to Departure`. */
  dates: z.string(),
  madeAt: z.string(),
});
export type CalendarView = z.infer<typeof calendarView>;

export const listCalendars = contract({
  method: 'GET',
  path: '/api/tables/{table}/calendars',
  summary: 'One’s own private calendar addresses of a table that are not revoked',
  needs: 'export',
  query: empty,
  body: nothing,
  answer: z.object({ calendars: z.array(calendarView) }),
});
export const createCalendar = contract({
  method: 'POST',
  path: '/api/tables/{table}/calendars',
  summary: 'Make a private address from which a calendar program reads a list: it is told this once',
  needs: 'export',
  query: empty,
  body: calendarSchema,
  answer: calendarView.extend({ address: z.string() }),
});
export const revokeCalendar = contract({
  method: 'DELETE',
  path: '/api/tables/{table}/calendars/{calendar}',
  summary: 'Revoke a private calendar address',
  needs: 'export',
  query: empty,
  body: nothing,
  answer: empty,
});
export const readCalendar = contract({
  method: 'GET',
  path: '/api/calendars/{token}',
  summary: 'The events of a private calendar address (iCalendar, RFC 5545), as its account may see them now',
  needs: 'nobody',
  query: empty,
  body: nothing,
  answer: z.unknown(),
});
