import { DAY, isMoved, minutesOf, type Period } from '@fiche/core/calendar';
import { type RefObject, useRef } from 'react';
import type { Moving } from './moving.ts';
import { usePeriodDrag } from './usePeriodDrag.ts';

/** Days of a calendar that are marked for a new record. */
export interface MarkedDays {
  readonly first: string;
  readonly last: string;
}

interface DayDragging {
  readonly mayMove: boolean;
  readonly mayAdd: boolean;
  periodOf(id: number): Period | undefined;
  onMoving(moving: Moving | undefined): void;
  onMarked(days: MarkedDays | undefined): void;
  onMoved(moving: Moving): void;
  onNew(days: MarkedDays): void;
}

/** The day under a point of the page. */
const dayUnder = ({ clientX, clientY }: MouseEvent): string | undefined =>
  document
    .elementsFromPoint(clientX, clientY)
    .flatMap((one) => one.closest<HTMLElement>('[data-day]')?.dataset.day ?? [])[0];

/** Moves periods from day to day, stretches them, and marks days for a new one. */
export function useDayDrag(calendar: RefObject<HTMLElement | null>, given: DayDragging): void {
  const { mayMove, mayAdd, periodOf, onMoving, onMarked, onMoved, onNew } = given;
  const moving = useRef<Moving>(undefined);
  const marked = useRef<MarkedDays>(undefined);
  const forget = (): void => {
    [moving.current, marked.current] = [undefined, undefined];
    onMoving(undefined);
    onMarked(undefined);
  };
  usePeriodDrag<string>(calendar, {
    mayMove,
    mayAdd,
    periodOf,
    positionOf: dayUnder,
    onDrag: ({ period, part, at }, to) => {
      if (period) {
        const by = Math.round((minutesOf(to) - minutesOf(at)) / DAY) * DAY;
        moving.current = { period, part, by, lane: period.lane, with: 'pointer' };
        onMoving(moving.current);
      } else {
        marked.current = to < at ? { first: to, last: at } : { first: at, last: to };
        onMarked(marked.current);
      }
    },
    onDrop: () => {
      const [moved, days] = [moving.current, marked.current];
      forget();
      if (moved && isMoved(moved)) onMoved(moved);
      if (days) onNew(days);
    },
    onCancel: forget,
  });
}
