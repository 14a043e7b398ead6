/** Something that happened in the office: a record entered or changed. A value may name another record. */
export interface Happening {
  readonly at: string;
  readonly account: string;
  readonly table: string;
  /** The form it was entered through; the table's own card when left out. */
  readonly form?: string;
  readonly key: string;
  readonly values: HappeningValues;
  /** Lines entered with it, by subform. */
  readonly lines?: Readonly<Record<string, readonly HappeningValues[]>>;
}

export type HappeningValues = Readonly<Record<string, string | number | boolean | null | { readonly key: string }>>;

export const HOUR = 3_600_000;
export const DAY = 24 * HOUR;

/** The hour of seeding: what the office did is counted back from it, so that there is always something of today. */
export const END = Math.floor(Date.now() / HOUR) * HOUR;
/** The midnight that began the day of seeding (UTC). */
export const TODAY = Math.floor(END / DAY) * DAY;

const SEASON_DAYS = 210;

interface Season {
  /** Its first midnight, and its last moment, in ms. */
  readonly from: number;
  readonly to: number;
}

/** Two seasons of one length, a year apart; the second one goes on today. */
export const SEASONS: readonly [Season, Season] = [
  { from: TODAY - (SEASON_DAYS + 365) * DAY, to: TODAY - 365 * DAY },
  { from: TODAY - SEASON_DAYS * DAY, to: END },
];
/** When the office was set up: four weeks before its first season. */
export const SET_UP = SEASONS[0].from - 28 * DAY;

export const yearOf = (ms: number): number => new Date(ms).getUTCFullYear();
/** The years for which there are rates: those of the seasons, and the next one for stays that are booked ahead. */
export const YEARS: readonly number[] = Array.from(
  { length: yearOf(END + 60 * DAY) - yearOf(SET_UP) + 1 },
  (_, n) => yearOf(SET_UP) + n,
);

export const iso = (ms: number): string => new Date(ms).toISOString();
export const civil = (ms: number): string => iso(ms).slice(0, 16);
export const ref = (key: string) => ({ key });
