import {
  DAY,
  LANE_SPANS,
  type LaneSettings,
  type LaneSpan,
  laneWindow,
  newDate,
  type Period,
  stepOf,
  windowAround,
  windowBeside,
  windowZoomed,
} from '@fiche/core/calendar';
import { say } from '@fiche/core/languages';
import { dayAfter, formatCount } from '@fiche/core/office';
import { findField, type TableDefinition } from '@fiche/core/tables';
import type { Listing } from '@fiche/core/views';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { textCss, Waiting } from '../parts/index.ts';
import calendarCss from './calendar.module.css';
import { FreeLanes, type FreeQuestion, freeThisWeek, timeOf, useFreeLanes } from './FreeLanes.tsx';
import { LaneGrid } from './LaneGrid.tsx';
import { PeriodPanel } from './PeriodPanel.tsx';
import { civilText, refusesOverlap } from './periodText.ts';
import { ReasonDialog } from './ReasonDialog.tsx';
import { LANE_SPAN_LABELS } from './spanLabels.ts';
import { TimeBar } from './TimeBar.tsx';
import { laneWords, MOST_LANES, useLanes } from './useLanes.ts';
import { usePeriodForm } from './usePeriodForm.ts';
import { usePeriodMoves } from './usePeriodMoves.ts';
import { usePeriodRights } from './usePeriodRights.ts';
import { type PeriodsFilter, usePeriods } from './usePeriods.ts';
import { useTimeInAddress } from './useTimeInAddress.ts';

export interface InTimeProps {
  readonly table: TableDefinition;
  /** A listing that is shown in time, with the answers to what it asks. */
  readonly listing: Listing;
  readonly filter: PeriodsFilter;
}

/** The step of a move in words. */
export const stepWordsOf = (step: number): string =>
  step === DAY ? say('A day') : step === 60 ? say('An hour') : say('{step} minutes', { step });

/** Records in time, one lane for each record that they link to: which is free when, moved by dragging or by keys under all rules. */
export function LanesView({ table, listing, filter }: InTimeProps) {
  if (listing.shown.as !== 'lanes') return null;
  return <Lanes {...{ table, listing, filter }} settings={listing.shown.lanes} />;
}

function Lanes({ table, listing, filter, settings }: InTimeProps & { readonly settings: LaneSettings }) {
  const { today, day, span, set } = useTimeInAddress(Object.keys(LANE_SPANS) as LaneSpan[], settings.span, 'week');
  const from = day ?? windowAround(today, span);
  const [opened, setOpened] = useState<{ readonly period: Period; readonly bar: HTMLElement }>();
  const form = usePeriodForm(table, settings.form);
  const { target, lanes, more, error } = useLanes(table, settings, form, filter.asOf);
  const to = dayAfter(from, LANE_SPANS[span]);
  const query = usePeriods(table.id, listing, { from, to }, filter);
  const moves = usePeriodMoves(table, settings, form, lanes);
  const { now, holdsDays, mayMove, mayAdd } = usePeriodRights(form, table, settings, filter);
  const { question, setQuestion, asked, free, found } = useFreeTime(table, settings, holdsDays);
  const problem = error ?? query.error;
  if (problem)
    return (
      <p className={textCss.problem} role="alert">
        {problem.message}
      </p>
    );
  if (!lanes || !target || !query.data) return <Waiting what={say('Opening the lanes…')} />;
  const periods = moves.shown(query.data.periods);
  const step = stepOf(span, holdsDays);
  const laneLabel = findField(table, settings.lane)?.label ?? '';
  return (
    <div className={calendarCss.view}>
      <TimeBar
        words={say('{from} to {to}', { from: civilText(from), to: civilText(dayAfter(to, -1)) })}
        span={span}
        spans={LANE_SPAN_LABELS}
        onBeside={(direction) => set(windowBeside(from, span, direction), span)}
        onToday={() => set(windowAround(today, span), span)}
        onSpan={(next) => set(windowZoomed(from, span, next), next)}
      >
        {now && !question && (
          <Button variant="text" onClick={() => setQuestion(freeThisWeek())}>
            {say('Find free {label}', { label: target.label })}
          </Button>
        )}
      </TimeBar>
      {question && (
        <FreeLanes
          {...{ table, target, question }}
          answer={free.data}
          problem={free.error?.message}
          onAsk={(next) => {
            setQuestion(next);
            const seen = laneWindow(from, span);
            if (timeOf(next).from < seen.from || timeOf(next).to > seen.to) set(windowAround(next.from, span), span);
          }}
          lanes={lanes}
          onChoose={(lane) => asked && moves.add({ start: asked.from, end: asked.to, lane })}
          onClose={() => setQuestion(undefined)}
        />
      )}
      <LeftOut target={target} lanes={more} periods={query.data.more} />
      {lanes.length === 0 ? (
        <p className={textCss.faded}>
          {say('There are no {label} to show. Add some, or change in the settings which of them have a lane.', {
            label: target.label,
          })}
        </p>
      ) : (
        <LaneGrid
          label={say('{label} by {other}', { label: table.label, other: laneLabel })}
          {...{ lanes, periods, from, span, holdsDays, mayMove, mayAdd }}
          ends={settings.end !== null}
          refusesOverlap={refusesOverlap(table, settings)}
          free={found}
          onOpen={(period, bar) => setOpened({ period, bar })}
          onMoved={moves.move}
          onNew={moves.add}
        />
      )}
      {opened && (
        <PeriodPanel
          period={opened.period}
          anchor={opened.bar}
          card={`${form.path}/${opened.period.id}`}
          ends={settings.end !== null}
          mayMove={mayMove}
          step={step}
          stepWords={stepWordsOf(step)}
          lanes={{
            label: laneLabel,
            options: lanes.map((lane) => ({ value: String(lane.id), label: laneWords(lane) })),
          }}
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

/** The question for a free lane, while it is asked, and the lanes that are free then. */
function useFreeTime(table: TableDefinition, settings: LaneSettings, holdsDays: boolean) {
  const [question, setQuestion] = useState<FreeQuestion>();
  // The very time that a record would take which is entered there.
  const asked = question && {
    ...question,
    from: newDate(question.from, holdsDays),
    to: newDate(question.to, holdsDays),
  };
  const free = useFreeLanes(table, settings, asked);
  const found =
    asked && free.data ? { lanes: new Set(free.data.lanes.map((one) => one.id)), time: timeOf(asked) } : undefined;
  return { question, setQuestion, asked, free, found };
}

/** What is not shown because there is too much of it. */
function LeftOut({ target, lanes, periods }: { target: TableDefinition; lanes: boolean; periods: boolean }) {
  if (!lanes && !periods) return null;
  return (
    <p className={textCss.faded}>
      {lanes
        ? say('The first {mostLanes} {label} are shown. Choose in the settings which of them have a lane.', {
            mostLanes: formatCount(MOST_LANES),
            label: target.label,
          })
        : say('More lies in this time than is shown. Choose a shorter time, or filter.')}
    </p>
  );
}
