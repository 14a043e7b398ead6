import { elementScroll, observeElementOffset, useVirtualizer } from '@tanstack/react-virtual';
import type { RefObject } from 'react';

/** Browsers draw no element taller than some 17 (Firefox) or 33 million px (Chromium). */
const TALLEST = 15_000_000;

interface GridRowsProps {
  readonly box: RefObject<HTMLDivElement | null>;
  readonly count: number;
  /** The height of a row in px. */
  readonly height: number;
}

/**
 * The rows of a grid that are in sight. A list that is taller than what a browser draws is scrolled in proportion: its
 * scrollbar reaches from the first to the last row all the same.
 */
export function useGridRows({ box, count, height }: GridRowsProps) {
  const whole = count * height;
  const drawn = Math.min(whole, TALLEST);
  const view = box.current?.clientHeight ?? 0;
  const scale = whole > drawn ? (whole - view) / (drawn - view) : 1;
  const rows = useVirtualizer({
    count,
    getScrollElement: () => box.current,
    estimateSize: () => height,
    overscan: 12,
    isScrollingResetDelay: 80,
    observeElementOffset: (instance, tell) =>
      observeElementOffset(instance, (offset, scrolling) => tell(offset * scale, scrolling)),
    scrollToFn: (offset, options, instance) => elementScroll(offset / scale, options, instance),
  });
  const offset = rows.scrollOffset ?? 0;
  return {
    rows,
    /** The height of what is scrolled, in px. */
    drawnHeight: drawn,
    /** Where a row is drawn, in px from the top of what is scrolled. */
    topOf: (start: number): number => start - offset + offset / scale,
  };
}
