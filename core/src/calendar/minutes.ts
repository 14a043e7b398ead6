/** Minutes of a day. */
export const DAY = 1_440;
const MS_A_MINUTE = 60_000;

/**
 * A civil day or moment as minutes since 1970, every day having 1,440: `2026-08-17` and `2026-08-17T00:00` are the same, and
 * one day before `2026-08-18`.
 */
export const minutesOf = (civil: string): number =>
  Date.parse(civil.length === 10 ? `${civil}T00:00Z` : `${civil.slice(0, 16)}Z`) / MS_A_MINUTE;

/** The civil moment of minutes since 1970: `2026-08-17T15:30`. */
export const momentAt = (minutes: number): string => new Date(minutes * MS_A_MINUTE).toISOString().slice(0, 16);

/** The civil day of minutes since 1970: `2026-08-17`. */
export const dayAt = (minutes: number): string => momentAt(minutes).slice(0, 10);
