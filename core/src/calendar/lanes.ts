import type { Condition } from '../conditions/index.ts';
import { certainPairs } from '../narrowing/index.ts';
import type { FieldId } from '../tables/index.ts';
import { type Interval, intervalOf, overlapping, type Period } from './period.ts';

/** A period in its lane: periods that overlap stand below each other, in rows from 0. */
export interface PlacedPeriod extends Interval {
  readonly period: Period;
  readonly row: number;
}

/** The periods of one lane in order of time, each in the first row that is free; and how many rows that takes, one at least. */
export function placeInLane(
  periods: readonly Period[],
  ends: boolean,
): { readonly placed: readonly PlacedPeriod[]; readonly rows: number } {
  const taken: number[] = [];
  const placed = periods
    .map((period) => ({ period, ...intervalOf(period, ends) }))
    .sort((a, b) => a.from - b.from || a.period.id - b.period.id)
    .map((one): PlacedPeriod => {
      const free = taken.findIndex((to) => to <= one.from);
      const row = free < 0 ? taken.length : free;
      taken[row] = one.to;
      return { ...one, row };
    });
  return { placed, rows: Math.max(1, taken.length) };
}

/** A lane with its periods in rows; `lane` is undefined for the periods that lie in none. */
export interface PlacedLane<L> {
  readonly lane: L | undefined;
  readonly placed: readonly PlacedPeriod[];
  readonly rows: number;
}

/**
 * The periods of each lane, in the order of the lanes. Those of no lane come first, where there are any; those of a lane that is not
 * among `lanes` are left out.
 */
export function placeInLanes<L extends { readonly id: number }>(
  lanes: readonly L[],
  periods: readonly Period[],
  ends: boolean,
): readonly PlacedLane<L>[] {
  const byLane = new Map<number | null, Period[]>();
  for (const one of periods) {
    const list = byLane.get(one.lane);
    if (list) list.push(one);
    else byLane.set(one.lane, [one]);
  }
  const place = (lane: L | undefined): PlacedLane<L> => ({
    lane,
    ...placeInLane(byLane.get(lane?.id ?? null) ?? [], ends),
  });
  return [...(byLane.has(null) ? [place(undefined)] : []), ...lanes.map(place)];
}

/**
 * Lanes as they are while a period is moved: it has left its lane and lies in the first row of the one that it is over. The other
 * lanes are the very same objects, so that only two have to be drawn again.
 */
export const withMoved = <L extends { readonly id: number }>(
  lanes: readonly PlacedLane<L>[],
  moved: Period,
  ends: boolean,
): readonly PlacedLane<L>[] =>
  lanes.map((one) => {
    const id = one.lane?.id ?? null;
    const has = one.placed.some(({ period }) => period.id === moved.id);
    if (!has && id !== moved.lane) return one;
    const others = one.placed.filter(({ period }) => period.id !== moved.id);
    const own = { period: moved, ...intervalOf(moved, ends), row: 0 };
    return { ...one, placed: id === moved.lane ? [...others, own] : others };
  });

/** The first period of its new lane that a moved one overlaps; undefined where it is in none, or nothing is there. */
export const overlappedBy = (moved: Period, periods: readonly Period[]): Period | undefined =>
  moved.lane === null
    ? undefined
    : overlapping(
        moved,
        periods.filter((one) => one.lane === moved.lane),
      )[0];

/** A field of a record that follows when it moves to another lane: it takes what the record of the lane has at a path. */
export interface LaneParent {
  readonly field: FieldId;
  /** A path of the table of the lanes: `pontoon`, `pontoon.harbour`. */
  readonly path: string;
}

/**
 * The fields by which the link to a lane is narrowed, and those by which these are: the pontoon and the harbour of a berth. They
 * follow where a record moves to another lane, which would not be among the choices otherwise. `narrowingOf` gives the conditions
 * of a dropdown, or null.
 */
export function laneParents(lane: FieldId, narrowingOf: (field: FieldId) => Condition | null): readonly LaneParent[] {
  const found = new Map<FieldId, LaneParent>();
  const visit = (field: FieldId, before: string): void => {
    const where = narrowingOf(field);
    for (const { column, parent } of where === null ? [] : certainPairs(where)) {
      if (parent === lane || found.has(parent)) continue;
      const path = before === '' ? column : `${before}.${column}`;
      found.set(parent, { field: parent, path });
      visit(parent, path);
    }
  };
  visit(lane, '');
  return [...found.values()];
}
