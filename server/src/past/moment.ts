import { say } from '@fiche/core/languages';
import { currentOffice } from '@fiche/core/office';
import { Refusal } from '../http/index.ts';

const MOMENT = /^\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d(\.\d{1,6})?)?(Z|[+-]\d\d(:?\d\d)?)?$/;

/**
 * A moment of the past as SQL: `2026-08-17T15:30` in the civil time of the office, or with a zone, as lines of history have it;
 * `now` for today.
 * Throws 422 for what is no moment, or is still to come.
 */
export function momentSql(moment: string): string {
  if (moment === 'now') return 'now()';
  const plain = moment.replace(' ', 'T');
  const read = MOMENT.exec(plain);
  const date = new Date(`${plain.slice(0, 10)}T00:00:00Z`);
  if (!read || Number.isNaN(date.getTime()) || date.toISOString().slice(0, 10) !== plain.slice(0, 10))
    throw new Refusal(422, say('This is no moment. Write a day and a time, such as 2026-08-17T15:30.'));
  // Lines tell their moments in milliseconds and keep microseconds: what is named is the whole of the millisecond.
  if (read[3] !== undefined)
    return `('${plain}'::timestamptz + interval '${(read[2] ?? '').length > 4 ? 0 : 999} microseconds')`;
  const zone = currentOffice().timeZone.replaceAll("'", "''");
  return `('${plain}'::timestamp AT TIME ZONE '${zone}')`;
}
