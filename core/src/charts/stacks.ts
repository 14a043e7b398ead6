import { stack, stackOffsetDiverging, stackOrderNone } from 'd3-shape';
import type { FigureBar } from './figures.ts';

/** One part of a bar: from one amount to another, away from 0. */
export interface Stacked {
  readonly bar: number;
  /** Null for a bar that is not divided. */
  readonly part: number | null;
  readonly from: number;
  readonly to: number;
}

/**
 * The parts of bars one upon another, in the order of the parts: amounts above 0 upwards from 0, those below downwards. Parts of
 * nothing are left out.
 */
export function stackBars(bars: readonly FigureBar[], parts: number): Stacked[] {
  if (parts === 0)
    return bars.flatMap(({ amount }, bar) => (amount === null ? [] : [{ bar, part: null, from: 0, to: amount }]));
  const series = stack<FigureBar, number>()
    .keys(Array.from({ length: parts }, (_, part) => part))
    .value((bar, part) => bar.parts?.[part] ?? 0)
    .order(stackOrderNone)
    .offset(stackOffsetDiverging)([...bars]);
  return series
    .flatMap((layer) =>
      layer.map(([low, high], bar): Stacked => {
        const down = (bars[bar]?.parts?.[layer.key] ?? 0) < 0;
        return { bar, part: layer.key, from: down ? high : low, to: down ? low : high };
      }),
    )
    .filter(({ from, to }) => from !== to);
}

/** The least and the most that bars reach, 0 among them. */
export function extentOf(stacked: readonly Stacked[]): [number, number] {
  const ends = stacked.flatMap(({ from, to }) => [from, to]);
  return [Math.min(0, ...ends), Math.max(0, ...ends)];
}
