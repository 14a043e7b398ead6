const MS_A_DAY = 86_400_000;

/** A civil day or moment as the `Date` of its midnight UTC, where every day has 24 hours: what days are counted with. */
export const dayDate = (day: string): Date => new Date(`${day.slice(0, 10)}T00:00:00Z`);

/** The civil day of a midnight UTC: `2026-08-17`. */
export const dateDay = (date: Date): string => date.toISOString().slice(0, 10);

/** The day so many days after another; `dayAfter('2026-02-28', 1)` is `2026-03-01`. */
export const dayAfter = (day: string, days: number): string =>
  dateDay(new Date(dayDate(day).getTime() + days * MS_A_DAY));
