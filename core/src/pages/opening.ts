import { say } from '../languages/index.ts';
import type { PublicPage } from './settings.ts';

/** Why a page takes no answers now. */
export type Unavailable = 'before' | 'closed' | 'full';

const STANDARD: Readonly<Record<Unavailable, () => string>> = {
  before: () => say('This page is not open yet.'),
  closed: () => say('This page is closed and takes no more answers.'),
  full: () => say('This page has all the answers that it takes.'),
};

/**
 * Why a page takes no answers at `now` (civil time of the office, `2026-08-17T15:30`) with so many `answers`; undefined
 * while it takes some. It opens and closes at the beginning of the minute that is named.
 */
export function unavailableAt({ when, atMost }: PublicPage, now: string, answers: number): Unavailable | undefined {
  if (when?.opens && now < when.opens) return 'before';
  if (when?.closes && now >= when.closes) return 'closed';
  return atMost !== undefined && answers >= atMost ? 'full' : undefined;
}

/** What a page says while it takes no answers: the builder’s words, or the standard ones. */
export const unavailableWords = ({ words }: PublicPage, why: Unavailable): string => words?.[why] || STANDARD[why]();

/** Whether an answer that was sent can be corrected on a day (`2026-08-17`). */
export const isCorrectable = ({ corrections }: PublicPage, today: string): boolean =>
  corrections !== undefined && (corrections.until === null || today <= corrections.until);
