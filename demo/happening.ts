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

export const SEASONS = [2025, 2026] as const;
export const HOUR = 3_600_000;
export const DAY = 24 * HOUR;
export const LAST_MOMENT = Date.UTC(2026, 10, 20);

export const iso = (ms: number): string => new Date(ms).toISOString();
export const civil = (ms: number): string => iso(ms).slice(0, 16);
export const ref = (key: string) => ({ key });
