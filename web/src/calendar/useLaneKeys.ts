import type { Period } from '@fiche/core/calendar';
import type { Moving } from './moving.ts';
import { type Arrow, useMoveKeys } from './useMoveKeys.ts';

interface LaneKeys {
  /** The periods of each lane in order of time, in the order of the lanes; null is the lane of none. */
  readonly lanes: readonly { readonly id: number | null; readonly periods: readonly Period[] }[];
  readonly step: number;
  readonly mayMove: boolean;
  readonly moving: Moving | undefined;
  periodOf(id: number): Period | undefined;
  onMoving(moving: Moving | undefined): void;
  onMoved(moving: Moving): void;
  /** A period takes the focus. */
  onFocus(id: number): void;
}

/** Keys of lanes: arrows across go on in time, arrows down to the other lanes. */
export function useLaneKeys({ lanes, step, onFocus, ...keys }: LaneKeys) {
  const goDown = (from: Period, lane: number, down: number): void => {
    for (let to = lane + down; to >= 0 && to < lanes.length; to += down) {
      const [first, ...others] = lanes[to]?.periods ?? [];
      if (!first) continue;
      // The one that begins at about the same time.
      const distance = (one: Period): number => Math.abs(Date.parse(one.start) - Date.parse(from.start));
      onFocus(others.reduce((best, one) => (distance(one) < distance(best) ? one : best), first).id);
      return;
    }
  };
  return useMoveKeys({
    ...keys,
    stepTo: (moving, [across, down]: Arrow) => {
      if (across !== 0) return { by: moving.by + across * step };
      const next = lanes[lanes.findIndex((one) => one.id === moving.lane) + down];
      return next && moving.part === 'whole' ? { lane: next.id } : undefined;
    },
    onArrow: (period, [across, down]) => {
      const lane = lanes.findIndex((one) => one.periods.some(({ id }) => id === period.id));
      const own = lanes[lane]?.periods ?? [];
      const next = own[own.findIndex(({ id }) => id === period.id) + across];
      if (across === 0) goDown(period, lane, down);
      else if (next) onFocus(next.id);
    },
  });
}
