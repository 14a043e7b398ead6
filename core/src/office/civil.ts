import { currentOffice } from './office.ts';

const formats = new Map<string, Intl.DateTimeFormat>();

function formatOf(zone: string): Intl.DateTimeFormat {
  const known = formats.get(zone);
  if (known) return known;
  // Swedish writes dates as ISO 8601 does.
  const made = new Intl.DateTimeFormat('sv-SE', {
    timeZone: zone,
    calendar: 'gregory',
    numberingSystem: 'latn',
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  });
  formats.set(zone, made);
  return made;
}

/**
 * The civil date and time of an instant in a time zone, to the minute: in Lisbon on 29 March 2026, 00:59Z is
 * `2026-03-29T00:59` and 01:00Z is `2026-03-29T02:00`, as the clocks go forward then.
 */
export function civilOf(instant: Date, zone: string = currentOffice().timeZone): string {
  const part: Partial<Record<Intl.DateTimeFormatPartTypes, string>> = {};
  for (const { type, value } of formatOf(zone).formatToParts(instant)) part[type] = value;
  return `${part.year?.padStart(4, '0')}-${part.month}-${part.day}T${part.hour}:${part.minute}`;
}

let latest = { minute: Number.NaN, zone: '', civil: '' };

/** The civil date and time of the office now, to the minute: what `today` and `now` mean, on the server and in browsers. */
export function civilNow(): string {
  const minute = Math.floor(Date.now() / 60_000);
  const zone = currentOffice().timeZone;
  // Asked for with every save: the answer holds for a minute.
  if (latest.minute !== minute || latest.zone !== zone)
    latest = { minute, zone, civil: civilOf(new Date(minute * 60_000), zone) };
  return latest.civil;
}

const offsetAt = (instant: number, zone: string): number =>
  Date.parse(`${civilOf(new Date(instant), zone)}Z`) - Math.floor(instant / 60_000) * 60_000;

/**
 * The instant of a civil date and time in a time zone; of two, the first. One that the clocks leave out is moved on by as much:
 * in Lisbon on 29 March 2026, `2026-03-29T01:30` is 01:30Z, which clocks there show as 02:30.
 */
export function instantOf(civil: string, zone: string = currentOffice().timeZone): Date {
  const asUtc = Date.parse(`${civil}Z`);
  // The offsets a day before and after: whichever gives the civil time back is right.
  const offsets = [asUtc - 86_400_000, asUtc + 86_400_000].map((at) => offsetAt(at, zone));
  const fits = offsets.map((offset) => asUtc - offset).filter((at) => civilOf(new Date(at), zone) === civil);
  return new Date(fits.length > 0 ? Math.min(...fits) : asUtc - Math.min(...offsets));
}
