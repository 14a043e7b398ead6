import { max } from 'd3-array';
import { scaleLinear } from 'd3-scale';

interface Day {
  /** `2026-08-17`. */
  readonly day: string;
  readonly count: number;
}

interface Bar extends Day {
  readonly x: number;
  readonly width: number;
  readonly height: number;
}

const MS_A_DAY = 86_400_000;
const numberOf = (day: string): number => Date.parse(`${day}T00:00:00Z`) / MS_A_DAY;

/** Fewer days than these are not drawn wider. */
const LEAST_DAYS = 30;

/**
 * A bar for each day that has a count, over the span of all of them; `days` are in order and not empty. `highest` is the first of
 * the highest bars.
 */
export function answerBars(
  days: readonly Day[],
  { width, height }: { readonly width: number; readonly height: number },
) {
  const last = days.at(-1)?.day ?? '';
  const to = numberOf(last) + 1;
  const from = Math.min(numberOf(days[0]?.day ?? last), to - LEAST_DAYS);
  const x = scaleLinear([from, to], [0, width]);
  const y = scaleLinear([0, max(days, (one) => one.count) ?? 1], [0, height]);
  const step = x(from + 1);
  const bars = days.map(
    (one): Bar => ({ ...one, x: x(numberOf(one.day)), width: Math.max(1, step * 0.8), height: y(one.count) }),
  );
  const highest = bars.reduce((most, one) => (one.count > most.count ? one : most));
  return {
    bars,
    first: new Date(from * MS_A_DAY).toISOString().slice(0, 10),
    last,
    highest,
  };
}
