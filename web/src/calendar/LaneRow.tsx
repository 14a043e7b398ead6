import { type Interval, type PlacedPeriod, positionIn } from '@fiche/core/calendar';
import { say } from '@fiche/core/languages';
import ButtonBase from '@mui/material/ButtonBase';
import { clsx } from 'clsx';
import { memo } from 'react';
import lanesCss from './lanes.module.css';
import periodCss from './period.module.css';
import { nameOf, timeText } from './periodText.ts';
import type { Lane } from './useLanes.ts';

/** The height of a lane with one row of periods, and of each further row, in px. */
export const LANE = 27;
export const LANE_ROW = 23;

export const laneHeight = (rows: number): number => LANE + (rows - 1) * LANE_ROW;

interface LaneRowProps {
  readonly lane: Lane | undefined;
  /** Its place among the lanes, from 0. */
  readonly index: number;
  readonly top: number;
  readonly rows: number;
  readonly placed: readonly PlacedPeriod[];
  /** The period that is being moved, where it is over this lane. */
  readonly moved: number | undefined;
  /** Why it cannot be put down here, in words. */
  readonly refused: string | undefined;
  readonly window: Interval;
  readonly ends: boolean;
  readonly movable: boolean;
  /** The period that Tab stops at, where it is in this lane. */
  readonly tabStop: number | undefined;
  /** What is free in this lane, of the time that was asked for. */
  readonly free: Interval | undefined;
  /** What is being drawn in this lane. */
  readonly drawn: Interval | undefined;
}

/** Whether something lies, in part at least, in the time that is shown. */
export const overlaps = (window: Interval, { from, to }: Interval): boolean => from < window.to && to > window.from;

const percent = (part: number): string => `${(part * 100).toFixed(3)}%`;

/** Where an interval lies in the window, as a style. */
const across = (window: Interval, { from, to }: Interval) => {
  const [left, right] = [positionIn(window, from), positionIn(window, to)];
  return { left: percent(left), width: percent(right - left) };
};

/** One lane: the name of its record, and its periods in time. What it shows changes only with its own periods. */
export const LaneRow = memo(function LaneRow(props: LaneRowProps) {
  const { lane, index, top, rows, placed, window, ends, movable, moved, refused, tabStop, free, drawn } = props;
  const title = lane?.title ?? say('None');
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      className={lanesCss.row}
      style={{ transform: `translateY(${top}px)`, height: laneHeight(rows) }}
    >
      <div role="rowheader" className={lanesCss.name} title={lane ? `${title} ${lane.facts}` : undefined}>
        <span className={lanesCss.title}>{title}</span>
        {lane && lane.facts !== '' && <span className={lanesCss.facts}>{lane.facts}</span>}
      </div>
      <div role="gridcell" className={lanesCss.track} data-lane={lane?.id ?? 'none'}>
        {free && <span className={lanesCss.free} style={across(window, free)} data-free />}
        {drawn && <span className={lanesCss.drawn} style={across(window, drawn)} />}
        {placed
          .filter((one) => overlaps(window, one))
          .map((one) => (
            <PeriodBar
              key={one.period.id}
              {...{ one, window, ends, movable }}
              moving={one.period.id === moved}
              refused={one.period.id === moved ? refused : undefined}
              tabStop={one.period.id === tabStop}
            />
          ))}
      </div>
    </div>
  );
});

function PeriodBar({
  one,
  window,
  ends,
  movable,
  moving,
  refused,
  tabStop,
}: Pick<LaneRowProps, 'window' | 'ends' | 'movable' | 'refused'> & {
  readonly one: PlacedPeriod;
  readonly moving: boolean;
  readonly tabStop: boolean;
}) {
  const { period, row } = one;
  const words = `${nameOf(period)}, ${timeText(period, ends)}`;
  return (
    <ButtonBase
      disableRipple
      className={clsx(
        periodCss.period,
        one.from < window.from && periodCss.before,
        one.to > window.to && periodCss.after,
        moving && periodCss.moving,
        refused !== undefined && periodCss.refused,
      )}
      style={{ ...across(window, one), top: 3 + row * LANE_ROW }}
      data-period={period.id}
      tabIndex={tabStop ? 0 : -1}
      aria-label={refused === undefined ? words : `${words}. ${refused}`}
      aria-keyshortcuts={movable ? 'Enter Space' : 'Enter'}
    >
      {movable && <span className={periodCss.edge} data-edge="start" />}
      <span className={periodCss.words}>{refused ?? nameOf(period)}</span>
      {movable && period.end !== null && <span className={clsx(periodCss.edge, periodCss.lastEdge)} data-edge="end" />}
    </ButtonBase>
  );
}
