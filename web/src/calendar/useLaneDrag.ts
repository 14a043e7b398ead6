import { drawnDates, type Interval, inSteps, isMoved, type Period } from '@fiche/core/calendar';
import { type RefObject, useRef } from 'react';
import type { DrawnInterval, Moving } from './moving.ts';
import { usePeriodDrag } from './usePeriodDrag.ts';

interface LaneDragging {
  /** The time that the lanes show. */
  readonly window: Interval;
  /** Minutes by which things move. */
  readonly step: number;
  readonly holdsDays: boolean;
  readonly mayMove: boolean;
  readonly mayAdd: boolean;
  periodOf(id: number): Period | undefined;
  onMoving(moving: Moving | undefined): void;
  onDrawn(drawn: DrawnInterval | undefined): void;
  onMoved(moving: Moving): void;
  onNew(drawn: DrawnInterval): void;
}

/** A point of the lanes: the moment in minutes, and the lane that it is over. */
interface LanePosition {
  readonly minutes: number;
  readonly lane: number | null;
}

/** The lane under a point of the page: its number, null for that of no record, undefined where there is none. */
function laneUnder({ clientX, clientY }: MouseEvent): number | null | undefined {
  const track = document
    .elementsFromPoint(clientX, clientY)
    .flatMap((one) => one.closest<HTMLElement>('[data-lane]') ?? [])[0];
  const lane = track?.dataset.lane;
  return lane === undefined ? undefined : lane === 'none' ? null : Number(lane);
}

/** Moves periods in time and to other lanes, stretches them, and draws new ones. */
export function useLaneDrag(lanes: RefObject<HTMLElement | null>, given: LaneDragging): void {
  const { window, step, holdsDays, mayMove, mayAdd, periodOf, onMoving, onDrawn, onMoved, onNew } = given;
  const moving = useRef<Moving>(undefined);
  const drawn = useRef<DrawnInterval>(undefined);
  const minutesAt = (clientX: number): number => {
    const track = lanes.current?.querySelector('[data-lane]')?.getBoundingClientRect();
    return track ? window.from + ((clientX - track.left) / track.width) * (window.to - window.from) : window.from;
  };
  const forget = (): void => {
    [moving.current, drawn.current] = [undefined, undefined];
    onMoving(undefined);
    onDrawn(undefined);
  };
  usePeriodDrag<LanePosition>(lanes, {
    mayMove,
    mayAdd,
    periodOf,
    positionOf: (event) => {
      const lane = laneUnder(event);
      return lane === undefined ? undefined : { minutes: minutesAt(event.clientX), lane };
    },
    onDrag: ({ period, part, at }, to) => {
      if (period) {
        const by = inSteps(to.minutes - at.minutes, step);
        moving.current = { period, part, by, lane: to.lane, with: 'pointer' };
        onMoving(moving.current);
      } else {
        drawn.current = { lane: at.lane, ...drawnDates(at.minutes, to.minutes, step, holdsDays) };
        onDrawn(drawn.current);
      }
    },
    onDrop: () => {
      const [moved, added] = [moving.current, drawn.current];
      forget();
      if (moved && isMoved(moved)) onMoved(moved);
      if (added) onNew(added);
    },
    onCancel: forget,
  });
}
