import type { CalendarSpan, LaneSpan } from '@fiche/core/calendar';
import { say } from '@fiche/core/languages';

/** How much of time lanes show, as people choose it. */
export const LANE_SPAN_LABELS: Readonly<Record<LaneSpan, string>> = {
  day: say('Day'),
  week: say('Week'),
  fortnight: say('Fortnight'),
  month: say('Month'),
  season: say('Season'),
  year: say('Year'),
};

/** How much of time a calendar shows, as people choose it. */
export const CALENDAR_SPAN_LABELS: Readonly<Record<CalendarSpan, string>> = {
  month: say('Month'),
  week: say('Week'),
  list: say('List'),
};
