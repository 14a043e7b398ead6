import { type LabelLayout, labelPaths } from '../labels/index.ts';
import { say } from '../languages/index.ts';
import type { TableId, Tables } from '../tables/index.ts';
import type { Listing } from '../views/index.ts';
import { readingsOfListing } from './ofView.ts';
import type { Reading, UsePlace } from './reading.ts';

/** Labels that are kept for a table, as those that look for uses have them. */
export interface UsedLabels {
  readonly id: number;
  readonly table: TableId;
  readonly label: string;
  readonly layout: LabelLayout;
}

/** What labels read of the records of their table. */
export function readingsOfLabels({ id, table, label, layout }: UsedLabels): Reading[] {
  const place: UsePlace = { kind: 'labels', id: String(id), label, table };
  return [
    { place, words: say('the table that they are for'), table },
    ...labelPaths(layout).map((path) => ({ place, words: say('a line of them'), table, path })),
  ];
}

/** A private calendar address, as those that look for uses have it. */
export interface UsedCalendar {
  readonly id: number;
  readonly table: TableId;
  readonly label: string;
  readonly listing: Listing;
  readonly dates: readonly string[];
}

/** What a calendar reads: its list, and the dates of its events. */
export function readingsOfCalendar({ id, table, label, listing, dates }: UsedCalendar, tables: Tables): Reading[] {
  const place: UsePlace = { kind: 'calendar', id: String(id), label, table };
  return [
    ...readingsOfListing(place, table, listing, tables),
    ...dates.map((path) => ({ place, words: say('the date of its events'), table, path })),
  ];
}
