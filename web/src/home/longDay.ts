import { civilNow, currentOffice } from '@fiche/core/office';

/** Today in the office, written out as its locale does: `Wednesday, 25 November`. */
export function longDay(): string {
  const today = new Date(`${civilNow().slice(0, 10)}T12:00:00Z`);
  // The page is in English: its weekday and month are, in the order of the locale where that is English as well.
  const locale = currentOffice().locale.startsWith('en') ? currentOffice().locale : 'en-GB';
  return new Intl.DateTimeFormat(locale, {
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    timeZone: 'UTC',
  }).format(today);
}
