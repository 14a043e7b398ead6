import { DAY, movedPeriod, type Period, placeInWeek, type WeekSegment } from '@fiche/core/calendar';
import { formatDay } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { civilNow, dayAfter, formatCount, partsOfDay } from '@fiche/core/office';
import ButtonBase from '@mui/material/ButtonBase';
import { clsx } from 'clsx';
import { useMemo, useState } from 'react';
import { Link } from 'react-router-dom';
import { pageCss, useSize } from '../parts/index.ts';
import calendarCss from './calendar.module.css';
import lanesCss from './lanes.module.css';
import type { Moving } from './moving.ts';
import periodCss from './period.module.css';
import { nameOf, timeText } from './periodText.ts';
import { type MarkedDays, useDayDrag } from './useDayDrag.ts';
import { useKeptFocus } from './useKeptFocus.ts';
import { useMoveKeys } from './useMoveKeys.ts';

interface MonthGridProps {
  readonly label: string;
  /** The Mondays of the weeks that are shown. */
  readonly weeks: readonly string[];
  /** Days outside of this month are fainter; `2026-08`, or undefined where all are alike. */
  readonly month: string | undefined;
  readonly periods: readonly Period[];
  readonly ends: boolean;
  readonly mayMove: boolean;
  readonly mayAdd: boolean;
  /** Where the records of one day are listed. */
  addressOfDay(day: string): string;
  onOpen(period: Period, bar: HTMLElement): void;
  onMoved(period: Period, to: Pick<Period, 'start' | 'end' | 'lane'>): void;
  onNew(days: MarkedDays): void;
}

/** The space that the number of a day takes above its periods, and one row of those, in px. */
const DAY_HEAD = 24;
const ROW = 22;

/** Weeks below each other with their periods over their days: moved from day to day by dragging, or by Space and arrow keys. */
export function MonthGrid(props: MonthGridProps) {
  const { label, weeks, month, periods, ends, mayMove, mayAdd, addressOfDay, onOpen } = props;
  const [box, { height }] = useSize<HTMLDivElement>();
  // So many rows of periods fit in a week, as high as weeks are drawn.
  const rows = Math.max(1, Math.floor((height / weeks.length - DAY_HEAD) / ROW));
  const [moving, setMoving] = useState<Moving>();
  const [marked, setMarked] = useState<MarkedDays>();
  const [focused, setFocused] = useState<number>();
  const known = useMemo(() => new Map(periods.map((one) => [one.id, one])), [periods]);
  const shown = useMemo(
    () => (moving ? periods.map((one) => (one.id === moving.period.id ? movedPeriod(moving, DAY) : one)) : periods),
    [periods, moving],
  );
  const putDown = (put: Moving): void => {
    const { start, end, lane } = movedPeriod(put, DAY);
    props.onMoved(put.period, { start, end, lane });
  };
  useDayDrag(box, {
    mayMove,
    mayAdd,
    periodOf: (id) => known.get(id),
    onMoving: setMoving,
    onMarked: setMarked,
    onMoved: putDown,
    onNew: props.onNew,
  });
  const placed = weeks.map((monday) => ({ monday, ...placeInWeek(monday, shown, ends, rows) }));
  const inOrder = [...new Set(placed.flatMap(({ segments }) => segments.map((one) => one.period.id)))];
  const tabStop = focused !== undefined && inOrder.includes(focused) ? focused : inOrder[0];
  const focus = (id: number | undefined): void => {
    if (id === undefined) return;
    setFocused(id);
    box.current?.querySelector<HTMLElement>(`[data-period="${id}"]`)?.focus();
  };
  const keys = useMoveKeys({
    mayMove,
    moving,
    periodOf: (id) => known.get(id),
    stepTo: ({ by }, [across, down]) => ({ by: by + (across + 7 * down) * DAY }),
    onArrow: ({ id }, [across, down]) => focus(inOrder[inOrder.indexOf(id) + across + down]),
    onMoving: (next) => {
      if (next) setFocused(next.period.id);
      setMoving(next);
    },
    onMoved: putDown,
  });
  useKeptFocus(box, moving?.with === 'keys' ? moving.period.id : undefined);
  return (
    <>
      <section aria-label={label} className={clsx(pageCss.listCard, calendarCss.month)}>
        <div className={calendarCss.weekdays} aria-hidden>
          {Array.from({ length: 7 }, (_, at) => dayAfter(weeks[0] ?? '2026-01-05', at)).map((day) => (
            <span key={day}>{partsOfDay(day, { weekday: 'short' })}</span>
          ))}
        </div>
        <div ref={box} className={calendarCss.weeks} onKeyDown={keys.onKeyDown}>
          {placed.map(({ monday, segments, hidden }) => (
            <Week
              key={monday}
              {...{ monday, segments, hidden, month, marked, addressOfDay, ends }}
              movable={mayMove}
              moved={moving?.period.id}
              firstMonday={weeks[0]}
              tabStop={tabStop}
              onOpen={(id, bar) => {
                setFocused(id);
                const period = known.get(id);
                if (period) onOpen(period, bar);
              }}
            />
          ))}
        </div>
      </section>
      <p className={lanesCss.said} role="status">
        {keys.said}
      </p>
    </>
  );
}

interface WeekProps {
  readonly monday: string;
  readonly segments: readonly WeekSegment[];
  readonly hidden: readonly number[];
  readonly month: string | undefined;
  readonly marked: MarkedDays | undefined;
  readonly ends: boolean;
  readonly movable: boolean;
  readonly moved: number | undefined;
  /** The first week that is shown. */
  readonly firstMonday: string | undefined;
  /** The period that Tab stops at. */
  readonly tabStop: number | undefined;
  addressOfDay(day: string): string;
  onOpen(id: number, bar: HTMLElement): void;
}

const seventh = (n: number): string => `${((n / 7) * 100).toFixed(3)}%`;

function Week({
  monday,
  segments,
  hidden,
  month,
  marked,
  ends,
  movable,
  moved,
  firstMonday,
  tabStop,
  addressOfDay,
  onOpen,
}: WeekProps) {
  const today = civilNow().slice(0, 10);
  const days = Array.from({ length: 7 }, (_, at) => dayAfter(monday, at));
  return (
    <div className={calendarCss.week}>
      <div className={calendarCss.days}>
        {days.map((day) => (
          <div
            key={day}
            data-day={day}
            className={clsx(
              calendarCss.cell,
              month !== undefined && !day.startsWith(month) && calendarCss.other,
              day === today && calendarCss.today,
              marked && day >= marked.first && day <= marked.last && calendarCss.marked,
            )}
          >
            <time dateTime={day}>
              {partsOfDay(day, day.endsWith('-01') ? { day: 'numeric', month: 'short' } : { day: 'numeric' })}
            </time>
          </div>
        ))}
      </div>
      {segments.map(({ period, row, from, to, begins, ends: last }) => (
        <ButtonBase
          key={period.id}
          disableRipple
          data-period={period.id}
          // Of a period that goes over several weeks, the first part that is shown.
          tabIndex={period.id === tabStop && (begins || monday === firstMonday) ? 0 : -1}
          className={clsx(
            periodCss.period,
            !begins && periodCss.before,
            !last && periodCss.after,
            moved === period.id && periodCss.moving,
          )}
          style={{
            left: `calc(${seventh(from)} + 3px)`,
            width: `calc(${seventh(to - from + 1)} - 6px)`,
            top: DAY_HEAD + row * ROW,
          }}
          aria-label={`${nameOf(period)}, ${timeText(period, ends)}`}
          onClick={(event) => onOpen(period.id, event.currentTarget)}
        >
          {movable && begins && <span className={periodCss.edge} data-edge="start" />}
          <span className={periodCss.words}>
            {begins && period.start.length > 10 && from === to && (
              <span className={calendarCss.moreWord}>{period.start.slice(11, 16)} </span>
            )}
            {nameOf(period)}
          </span>
          {movable && last && period.end !== null && (
            <span className={clsx(periodCss.edge, periodCss.lastEdge)} data-edge="end" />
          )}
        </ButtonBase>
      ))}
      {hidden.map((count, at) =>
        count === 0 ? null : (
          <Link
            key={days[at]}
            className={calendarCss.hidden}
            style={{ right: seventh(6 - at) }}
            to={addressOfDay(days[at] ?? monday)}
            aria-label={say('{count} more on {at}', { count: formatCount(count), at: formatDay(days[at] ?? monday) })}
          >
            +{formatCount(count)}
            <span className={calendarCss.moreWord}> {say('more')}</span>
          </Link>
        ),
      )}
    </div>
  );
}
