import { createHash } from 'node:crypto';
import { instantOf } from '@fiche/core/office';
import ical, { foldLines, ICalEvent } from 'ical-generator';
import { cellAsText } from './csv.ts';
import type { FileFormat, FileHead, FileRow } from './format.ts';

const DAY_MS = 86_400_000;

/** A civil date as the day that a calendar means, which it writes in UTC. */
const dayOf = (civil: string): Date => new Date(`${civil.slice(0, 10)}T00:00:00Z`);

/** What calendars know a record by, for as long as it is there: no address, and the same in every export (RFC 7986, 5.3). */
const uidOf = (title: string, id: number): string =>
  `${createHash('sha256').update(`${title}:${id}`).digest('hex').slice(0, 32)}@fiche`;

/** One record as an event; undefined for one without a date. Whole days where its column has no time. */
function eventOf({ title, columns, period, addressOf }: FileHead, row: FileRow) {
  if (!period) return undefined;
  const begins = row.cells[period.begins];
  const ends = period.ends === null ? null : row.cells[period.ends];
  if (typeof begins !== 'string') return undefined;
  const allDay = columns[period.begins]?.holds === 'date';
  const start = allDay ? dayOf(begins) : instantOf(begins);
  const last = typeof ends === 'string' && ends >= begins ? ends : undefined;
  const end =
    last === undefined
      ? undefined
      : allDay
        ? // The end of whole days is the day after the last one (RFC 5545, 3.6.1).
          new Date(dayOf(last).getTime() + DAY_MS)
        : instantOf(last.length === 10 ? `${last}T23:59` : last);
  const description = columns.flatMap(({ label, holds }, at) => {
    const text = cellAsText(row.cells[at] ?? null, holds);
    return text === '' ? [] : [`${label}: ${text}`];
  });
  return {
    id: uidOf(title, row.id),
    start,
    ...(end ? { end } : {}),
    allDay,
    stamp: new Date(row.changedAt),
    summary: row.title,
    description: description.join('\n'),
    ...(addressOf ? { url: addressOf(row.id) } : {}),
  };
}

/** iCalendar (RFC 5545): an event for each record that has a date. */
export const calendar: FileFormat = {
  type: 'text/calendar; charset=utf-8',
  ending: 'ics',
  async *write(head, pages) {
    const empty = ical({ name: head.title, prodId: { company: 'Fiche', product: 'Fiche' } });
    const [before = '', after = ''] = empty.toString().split(/(?=END:VCALENDAR)/);
    yield before.endsWith('\n') ? before : `${before}\r\n`;
    for await (const rows of pages)
      for (const row of rows) {
        const event = eventOf(head, row);
        // Each is written by itself, so that a calendar of any length needs little memory.
        if (event) yield foldLines(new ICalEvent(event, empty).toString());
      }
    yield after;
  },
};
