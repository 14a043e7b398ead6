import type { PeriodMove } from '@fiche/core/calendar';

/** A move that is under way, with the pointer or by keys. */
export interface Moving extends PeriodMove {
  readonly with: 'pointer' | 'keys';
}

/** An interval of an empty lane that is being drawn for a new record. */
export interface DrawnInterval {
  readonly lane: number | null;
  readonly start: string;
  readonly end: string;
}
