import { dateTime, formatMoment } from '@fiche/core/fields';

/** A moment of the past as an address names it, in words: civil time of the office (`2026-08-17T15:30`), or with its zone. */
export const momentWords = (moment: string): string =>
  /Z$|[+-]\d\d(:?\d\d)?$/.test(moment.slice(16)) ? formatMoment(moment) : dateTime.format(moment.slice(0, 16), {});
