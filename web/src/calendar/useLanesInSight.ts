import type { PlacedLane } from '@fiche/core/calendar';
import { defaultRangeExtractor, useVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useEffect } from 'react';
import { laneHeight } from './LaneRow.tsx';

/** Which lanes are drawn: those in sight, and the one that Tab reaches (its place, or -1), while others are scrolled to. */
export function useLanesInSight(
  rows: readonly PlacedLane<unknown>[],
  scroller: { readonly current: HTMLDivElement | null },
  tabStop: number,
) {
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: (at) => laneHeight(rows[at]?.rows ?? 1),
    overscan: 6,
    rangeExtractor: useCallback(
      (range: Parameters<typeof defaultRangeExtractor>[0]) => {
        const seen = defaultRangeExtractor(range);
        return tabStop < 0 || seen.includes(tabStop) ? seen : [...seen, tabStop].sort((a, b) => a - b);
      },
      [tabStop],
    ),
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: heights follow from the rows of each lane.
  useEffect(() => virtual.measure(), [rows]);
  return virtual;
}
