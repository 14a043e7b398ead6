import {
  type Interval,
  intervalOf,
  laneWindow,
  minutesOf,
  movedPeriod,
  type Period,
  type PlacedLane,
  positionIn,
  stepOf,
  timeTicks,
} from '@fiche/core/calendar';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { useMemo, useRef, useState } from 'react';
import { useSize } from '../parts/index.ts';
import { LaneRow, overlaps } from './LaneRow.tsx';
import lanesCss from './lanes.module.css';
import type { DrawnInterval, Moving } from './moving.ts';
import { civilText } from './periodText.ts';
import { useKeptFocus } from './useKeptFocus.ts';
import { useLaneDrag } from './useLaneDrag.ts';
import { useLaneKeys } from './useLaneKeys.ts';
import type { Lane } from './useLanes.ts';
import { useLanesInSight } from './useLanesInSight.ts';
import { usePlacedLanes } from './usePlacedLanes.ts';

interface LaneGridProps {
  readonly label: string;
  readonly lanes: readonly Lane[];
  readonly periods: readonly Period[];
  /** The first day, and how much is seen. */
  readonly from: string;
  readonly span: Parameters<typeof laneWindow>[1];
  readonly ends: boolean;
  readonly holdsDays: boolean;
  readonly mayMove: boolean;
  readonly mayAdd: boolean;
  /** A rule refuses periods that overlap in a lane. */
  readonly refusesOverlap: boolean;
  /** The lanes that are free in a time that was asked for. */
  readonly free: { readonly lanes: ReadonlySet<number>; readonly time: Interval } | undefined;
  onOpen(period: Period, bar: HTMLElement): void;
  onMoved(period: Period, to: Pick<Period, 'start' | 'end' | 'lane'>): void;
  onNew(drawn: DrawnInterval): void;
}

/** Lanes below each other with their periods in time: only those in sight are drawn. */
export function LaneGrid(props: LaneGridProps) {
  const { label, periods, from, span, ends, holdsDays, mayMove, free, onOpen } = props;
  const window = useMemo(() => laneWindow(from, span), [from, span]);
  const step = stepOf(span, holdsDays);
  const [moving, setMoving] = useState<Moving>();
  const [drawn, setDrawn] = useState<DrawnInterval>();
  const { rows, moved, refused } = usePlacedLanes(props, moving, step);
  const scroller = useRef<HTMLDivElement>(null);
  const body = useRef<HTMLDivElement>(null);
  const { order, inSight, tabStop, setFocused } = useTabStop(rows, window);
  const virtual = useLanesInSight(rows, scroller, inSight);
  const putDown = (put: Moving): void => {
    const { start, end, lane } = movedPeriod(put, step);
    props.onMoved(put.period, { start, end, lane });
  };
  const known = useMemo(() => new Map(periods.map((one) => [one.id, one])), [periods]);
  useLaneDrag(body, {
    window,
    step,
    holdsDays,
    mayMove,
    mayAdd: props.mayAdd,
    periodOf: (id) => known.get(id),
    onMoving: setMoving,
    onDrawn: setDrawn,
    onMoved: putDown,
    onNew: props.onNew,
  });
  useKeptFocus(body, moving?.with === 'keys' ? moving.period.id : undefined);
  const focus = (id: number): void => {
    setFocused(id);
    const at = order.findIndex((one) => one.periods.some((period) => period.id === id));
    if (at >= 0) virtual.scrollToIndex(at);
    requestAnimationFrame(() => body.current?.querySelector<HTMLElement>(`[data-period="${id}"]`)?.focus());
  };
  const keys = useLaneKeys({
    lanes: order,
    step,
    mayMove,
    moving,
    periodOf: (id) => known.get(id),
    onMoving: (next) => {
      if (next) setFocused(next.period.id);
      setMoving(next);
    },
    onMoved: putDown,
    onFocus: focus,
  });
  const open = (target: EventTarget): void => {
    const bar = (target as HTMLElement).closest<HTMLElement>('[data-period]');
    const period = bar ? known.get(Number(bar.dataset.period)) : undefined;
    if (bar && period) {
      setFocused(period.id);
      onOpen(period, bar);
    }
  };
  return (
    <div className={lanesCss.frame}>
      <div
        ref={scroller}
        className={lanesCss.scroller}
        role="grid"
        aria-label={label}
        aria-rowcount={rows.length + 1}
        tabIndex={tabStop === undefined ? 0 : undefined}
      >
        <LaneHead {...{ from, span }} said={moved ? civilText(moved.start) : ''} />
        <div
          ref={body}
          role="rowgroup"
          className={lanesCss.body}
          style={{ height: virtual.getTotalSize() }}
          onKeyDown={keys.onKeyDown}
          onClick={(event) => open(event.target)}
        >
          {virtual.getVirtualItems().map(({ index, start }) => {
            const row = rows[index];
            if (!row) return null;
            const id = row.lane?.id ?? null;
            const there = moved?.lane === id;
            return (
              <LaneRow
                key={id ?? 'none'}
                {...row}
                {...{ index, window, ends }}
                top={start}
                movable={mayMove}
                moved={there ? moved.id : undefined}
                refused={there ? refused : undefined}
                tabStop={index === inSight ? tabStop : undefined}
                free={id !== null && free?.lanes.has(id) ? free.time : undefined}
                drawn={drawn && drawn.lane === id ? intervalOf(drawn, true) : undefined}
              />
            );
          })}
          <NowLine window={window} />
        </div>
      </div>
      <p className={lanesCss.said} role="status">
        {keys.said}
      </p>
    </div>
  );
}

/** The drawn periods lane by lane, and the one among them at which Tab stops: the one that had the focus, or else the first. */
function useTabStop(rows: readonly PlacedLane<Lane>[], window: Interval) {
  const [focused, setFocused] = useState<number>();
  const order = useMemo(
    () =>
      rows.map(({ lane, placed }) => ({
        id: lane?.id ?? null,
        // While another time is being read, periods of the one before are there, and not drawn.
        periods: placed.filter((one) => overlaps(window, one)).map((one) => one.period),
      })),
    [rows, window],
  );
  const all = order.flatMap((one) => one.periods);
  const tabStop = all.some((one) => one.id === focused) ? focused : all[0]?.id;
  const inSight = order.findIndex((one) => one.periods.some((period) => period.id === tabStop));
  return { order, tabStop, inSight, setFocused };
}

/** A line through all lanes at this moment, where it is in sight. */
function NowLine({ window }: { readonly window: Interval }) {
  const now = positionIn(window, minutesOf(civilNow()));
  if (now <= 0 || now >= 1) return null;
  return <span className={lanesCss.now} style={{ '--at': now } as object} aria-hidden />;
}

/** The time axis over all lanes; at its beginning, where what is moved would begin. */
function LaneHead({ from, span, said }: Pick<LaneGridProps, 'from' | 'span'> & { readonly said: string }) {
  const [axis, { width }] = useSize<HTMLDivElement>();
  return (
    <div role="row" aria-rowindex={1} className={lanesCss.head}>
      <div role="columnheader" className={lanesCss.corner}>
        <span>{said}</span>
      </div>
      <div
        role="columnheader"
        ref={axis}
        className={lanesCss.axis}
        aria-label={say('Time from {from}', { from: civilText(from) })}
      >
        {timeTicks(from, span, width || 900).map(({ at, text, strong }) => (
          <span key={at} className={strong ? lanesCss.strongTick : lanesCss.tick} style={{ left: `${at * 100}%` }}>
            {text}
          </span>
        ))}
      </div>
    </div>
  );
}
