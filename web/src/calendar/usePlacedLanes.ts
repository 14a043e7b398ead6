import { movedPeriod, overlappedBy, type Period, type PlacedLane, placeInLanes, withMoved } from '@fiche/core/calendar';
import { say } from '@fiche/core/languages';
import { useMemo } from 'react';
import type { Moving } from './moving.ts';
import { civilText, nameOf } from './periodText.ts';
import type { Lane } from './useLanes.ts';

interface Placing {
  readonly lanes: readonly Lane[];
  readonly periods: readonly Period[];
  readonly ends: boolean;
  /** A rule refuses periods that overlap in a lane. */
  readonly refusesOverlap: boolean;
}

/** The lanes with their periods, the one that is moved where it would be put down; and why it cannot be, where that is known already. */
export function usePlacedLanes(
  { lanes, periods, ends, refusesOverlap }: Placing,
  moving: Moving | undefined,
  step: number,
): { readonly rows: readonly PlacedLane<Lane>[]; readonly moved: Period | undefined; readonly refused?: string } {
  const still = useMemo(() => placeInLanes(lanes, periods, ends), [lanes, periods, ends]);
  return useMemo(() => {
    if (!moving) return { rows: still, moved: undefined };
    const moved = movedPeriod(moving, step);
    const other = refusesOverlap ? overlappedBy(moved, periods) : undefined;
    const until = other?.end ? civilText(other.end) : say('it leaves');
    const refused =
      other && say('{moved}: taken by {other} until {until}', { moved: nameOf(moved), other: nameOf(other), until });
    return { rows: withMoved(still, moved, ends), moved, ...(refused ? { refused } : {}) };
  }, [still, moving, step, refusesOverlap, periods, ends]);
}
