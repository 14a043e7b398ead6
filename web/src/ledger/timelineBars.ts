import type { LedgerOverview } from '@fiche/core/api';
import { sum } from 'd3-array';

/** People who have a colour of their own; the others are drawn together. */
const NAMED = 5;
/** All whose changes are few. */
export const OTHERS = 'others';

/** One bar of the timeline: the saves of an hour, a day or a week, by person. */
export interface Bar {
  /** Its beginning in civil time: `2026-08-17T00:00`. */
  readonly begin: string;
  readonly total: number;
  /** From the bottom up: where each part begins, and how many saves it has. */
  readonly parts: readonly { readonly account: string; readonly from: number; readonly count: number }[];
}

const STEPS = { hour: 3_600_000, day: 86_400_000, week: 7 * 86_400_000 } as const;

/** The bars of a timeline, those without a save too, and the people in it, those with most saves first. */
export function barsOf({ from, to, step, counts }: LedgerOverview): { bars: Bar[]; accounts: string[] } {
  const totals = new Map<string, number>();
  for (const { account, count } of counts) totals.set(account, (totals.get(account) ?? 0) + count);
  const ranked = [...totals].sort(([a, m], [b, n]) => n - m || (a < b ? -1 : 1)).map(([account]) => account);
  const named = new Set(ranked.slice(0, ranked.length > NAMED + 1 ? NAMED : NAMED + 1));
  const accounts = [...ranked.filter((one) => named.has(one)), ...(ranked.length > named.size ? [OTHERS] : [])];
  const first = begins(from, step);
  const last = Date.parse(`${to}T23:59Z`);
  const bars: Bar[] = [];
  for (let at = first; at <= last; at += STEPS[step]) {
    const begin = new Date(at).toISOString().slice(0, 16);
    const own = counts.filter((one) => one.begin === begin);
    let height = 0;
    const parts = accounts.flatMap((account) => {
      const count = sum(own, (one) =>
        one.account === account || (account === OTHERS && !named.has(one.account)) ? one.count : 0,
      );
      if (count === 0) return [];
      height += count;
      return [{ account, from: height - count, count }];
    });
    bars.push({ begin, total: height, parts });
  }
  return { bars, accounts };
}

/** The beginning of the first step, in ms as if civil time were UTC; weeks begin on Monday. */
function begins(day: string, step: LedgerOverview['step']): number {
  const at = Date.parse(`${day}T00:00Z`);
  const monday = (new Date(at).getUTCDay() + 6) % 7;
  return step === 'week' ? at - monday * STEPS.day : at;
}
