import {
  CALENDAR_SPANS,
  type CalendarSettings,
  type CalendarSpan,
  DAY,
  daysOf,
  mondayOf,
  monthAfter,
  monthOf,
  newDate,
  type Period,
  weeksOfMonth,
} from '@fiche/core/calendar';
import { formatDay } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { dayAfter, partsOfDay } from '@fiche/core/office';
import { findField } from '@fiche/core/tables';
import { clsx } from 'clsx';
import { useState } from 'react';
import { Link } from 'react-router-dom';
import { pageCss, textCss, Waiting } from '../parts/index.ts';
import calendarCss from './calendar.module.css';
import type { InTimeProps } from './LanesView.tsx';
import { MonthGrid } from './MonthGrid.tsx';
import { PeriodPanel } from './PeriodPanel.tsx';
import { nameOf, timeText } from './periodText.ts';
import { ReasonDialog } from './ReasonDialog.tsx';
import { CALENDAR_SPAN_LABELS } from './spanLabels.ts';
import { TimeBar } from './TimeBar.tsx';
import { usePeriodForm } from './usePeriodForm.ts';
import { usePeriodMoves } from './usePeriodMoves.ts';
import { usePeriodRights } from './usePeriodRights.ts';
import { usePeriods } from './usePeriods.ts';
import { useTimeInAddress } from './useTimeInAddress.ts';

/** The list shows so many days from its first one on. */
const LIST_DAYS = 31;

/** The days that are shown around a day: from the first to the one after the last, and the Mondays of their weeks. */
function shownDays(day: string, span: CalendarSpan): { from: string; to: string; weeks: string[] } {
  const weeks = span === 'month' ? weeksOfMonth(day) : [mondayOf(day)];
  if (span === 'list') return { from: day, to: dayAfter(day, LIST_DAYS), weeks: [] };
  return { from: weeks[0] ?? day, to: dayAfter(weeks.at(-1) ?? day, 7), weeks };
}

/** The day that the calendar shows around after going on by its span, or back. */
const dayBeside = (day: string, span: CalendarSpan, direction: 1 | -1): string =>
  span === 'month' ? monthAfter(day, direction) : dayAfter(day, direction * (span === 'week' ? 7 : LIST_DAYS));

const monthWords = (day: string): string => partsOfDay(day, { month: 'long', year: 'numeric' });

interface CalendarViewProps extends InTimeProps {
  /** Where the records are listed whose period lies on a day. */
  addressOfDay(day: string): string;
}

/** Records by their dates: a month, a week or a list of days. */
export function CalendarView(props: CalendarViewProps) {
  const { listing } = props;
  return listing.shown.as === 'calendar' ? <Calendar {...props} settings={listing.shown.calendar} /> : null;
}

function Calendar({
  table,
  listing,
  filter,
  addressOfDay,
  settings,
}: CalendarViewProps & { readonly settings: CalendarSettings }) {
  const [opened, setOpened] = useState<{ readonly period: Period; readonly bar: HTMLElement }>();
  const { today, day: named, span, set } = useTimeInAddress(CALENDAR_SPANS, settings.span, 'list');
  const day = named ?? today;
  const { from, to, weeks } = shownDays(day, span);
  const form = usePeriodForm(table, settings.form);
  const query = usePeriods(table.id, listing, { from, to }, filter);
  const moves = usePeriodMoves(table, settings, form);
  const start = findField(table, settings.start);
  const { holdsDays, mayMove, mayAdd } = usePeriodRights(form, table, settings, filter);
  const ends = settings.end !== null;
  if (query.isError)
    return (
      <p className={textCss.problem} role="alert">
        {query.error.message}
      </p>
    );
  if (!query.data) return <Waiting what={say('Opening the calendar…')} />;
  const periods = moves.shown(query.data.periods);
  return (
    <div className={calendarCss.view}>
      <TimeBar
        words={
          span === 'month'
            ? monthWords(monthOf(day))
            : say('{from} to {to}', { from: formatDay(from), to: formatDay(dayAfter(to, -1)) })
        }
        span={span}
        spans={CALENDAR_SPAN_LABELS}
        onBeside={(direction) => set(dayBeside(day, span, direction), span)}
        onToday={() => set(today, span)}
        onSpan={(next) => set(day, next)}
      >
        {query.data.more && (
          <span className={textCss.faded}>
            {say('More lies in this time than is shown. Choose a week, or filter.')}
          </span>
        )}
      </TimeBar>
      {span === 'list' ? (
        <DayList {...{ periods, ends, from }} path={form.path} label={table.label} />
      ) : (
        <MonthGrid
          label={say('{label} by {other}', { label: table.label, other: start?.label ?? '' })}
          weeks={weeks}
          month={span === 'month' ? day.slice(0, 7) : undefined}
          {...{ periods, ends, mayMove, mayAdd, addressOfDay }}
          onOpen={(period, bar) => setOpened({ period, bar })}
          onMoved={moves.move}
          onNew={({ first, last }) =>
            moves.add({
              start: newDate(first, holdsDays),
              end: newDate(first === last && !holdsDays ? dayAfter(last, 1) : last, holdsDays),
              lane: null,
            })
          }
        />
      )}
      {opened && (
        <PeriodPanel
          period={opened.period}
          anchor={opened.bar}
          card={`${form.path}/${opened.period.id}`}
          ends={ends}
          mayMove={mayMove}
          step={DAY}
          stepWords={say('A day')}
          onMove={(next) => moves.move(opened.period, next)}
          onClose={() => setOpened(undefined)}
        />
      )}
      {moves.asked && (
        <ReasonDialog asked={moves.asked.asked} title={moves.asked.move.period.title} onAnswer={moves.answer} />
      )}
    </div>
  );
}

/** Periods one after another by the day that they begin on; what has begun before stands under the first day. */
function DayList({
  periods,
  ends,
  from,
  path,
  label,
}: {
  readonly periods: readonly Period[];
  readonly ends: boolean;
  readonly from: string;
  readonly path: string;
  readonly label: string;
}) {
  if (periods.length === 0)
    return <p className={textCss.faded}>{say('There are no {label} in these days.', { label })}</p>;
  const shown = periods.map((period) => ({ period, day: daysOf(period, ends).first }));
  return (
    <ul className={clsx(pageCss.listCard, calendarCss.list)} aria-label={label}>
      {shown.map(({ period, day }, at) => {
        const begins = day < from ? say('Before') : formatDay(day);
        const before = shown[at - 1];
        const same = before && (before.day < from ? say('Before') : formatDay(before.day)) === begins;
        return (
          <li key={period.id} className={calendarCss.entry}>
            <span className={calendarCss.listDay}>{same ? '' : begins}</span>
            <span>
              <Link to={`${path}/${period.id}`}>{nameOf(period)}</Link>{' '}
              <span className={textCss.faded}>
                {period.label === null ? '' : `${period.title}, `}
                {timeText(period, ends)}
              </span>
            </span>
          </li>
        );
      })}
    </ul>
  );
}
