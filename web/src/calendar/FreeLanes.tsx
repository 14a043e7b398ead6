import type { FreeLanes as FreeAnswer } from '@fiche/core/api';
import { type Interval, type LaneSettings, minutesOf } from '@fiche/core/calendar';
import type { Group } from '@fiche/core/conditions';
import { fieldType } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { civilNow, dayAfter, formatCount } from '@fiche/core/office';
import { rightTo } from '@fiche/core/rights';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import Chip from '@mui/material/Chip';
import { useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { send, useOffice } from '../client/index.ts';
import { ParsedInput, pageCss, textCss } from '../parts/index.ts';
import { ConditionSentences, narrowingSides } from '../sentences/index.ts';
import calendarCss from './calendar.module.css';
import { type Lane, laneWords } from './useLanes.ts';

/** A question for free lanes. */
export interface FreeQuestion {
  readonly from: string;
  readonly to: string;
  readonly where: Group;
}

/** What is free in the next week, whatever it is. */
export const freeThisWeek = (): FreeQuestion => {
  const today = civilNow().slice(0, 10);
  return { from: today, to: dayAfter(today, 7), where: { kind: 'group', match: 'all', of: [] } };
};

export const timeOf = ({ from, to }: FreeQuestion): Interval => ({ from: minutesOf(from), to: minutesOf(to) });

/** Which lanes are free in a time, among all records of the table. */
export const useFreeLanes = (table: TableDefinition, settings: LaneSettings, question: FreeQuestion | undefined) =>
  useQuery({
    queryKey: ['records', table.id, 'free', settings.lane, settings.start, settings.end, settings.where, question],
    queryFn: ({ signal }) => {
      const { lane, start, end, where } = settings;
      const { from, to, where: own } = question as FreeQuestion;
      const both: Group = { kind: 'group', match: 'all', of: [where, own].filter((one) => one.of.length > 0) };
      return send<FreeAnswer>(
        'POST',
        `/api/tables/${table.id}/free-lanes`,
        { lane, start, end, where: both, from, to },
        {},
        signal,
      );
    },
    enabled: question !== undefined,
    placeholderData: (before) => before,
  });

interface FreeLanesProps {
  readonly table: TableDefinition;
  /** The table of the lanes. */
  readonly target: TableDefinition;
  readonly question: FreeQuestion;
  readonly answer: FreeAnswer | undefined;
  /** All lanes, in their order. */
  readonly lanes: readonly Lane[];
  readonly problem: string | undefined;
  onAsk(question: FreeQuestion): void;
  /** A free lane was chosen, to enter a new record in it. */
  onChoose(lane: number): void;
  onClose(): void;
}

/** Asks which lanes are free in some days: `Free Berths from 27 Nov to 2 Dec whose Longest vessel is at least 12 m.` */
export function FreeLanes({
  table,
  target,
  question,
  answer,
  lanes,
  problem,
  onAsk,
  onChoose,
  onClose,
}: FreeLanesProps) {
  const { tables, cabinet } = useOffice();
  const some = rightTo(cabinet.role, 'see', table) !== 'yes';
  const ids = new Set(answer?.lanes.map((one) => one.id));
  const free = lanes.filter((one) => ids.has(one.id));
  return (
    <section
      className={clsx(pageCss.listCard, calendarCss.free)}
      aria-label={say('Free {label}', { label: target.label })}
    >
      <div className={calendarCss.question}>
        <span>{say('Free from')}</span>
        <DayInput
          label={say('From')}
          day={question.from}
          onSet={(from) => onAsk({ ...question, from, to: question.to > from ? question.to : dayAfter(from, 1) })}
        />
        <span>{say('to')}</span>
        <DayInput label={say('To')} day={question.to} onSet={(to) => onAsk({ ...question, to })} />
        <ConditionSentences
          sides={narrowingSides(tables, target.id, [])}
          where={question.where}
          lead={[`${say('only {label} whose', { label: target.label })} `]}
          addLabel={say('+ Only {label} whose …', { label: target.label })}
          onChange={(where) => onAsk({ ...question, where })}
        />
        <Button variant="text" onClick={onClose}>
          {say('Close')}
        </Button>
      </div>
      <p role="status" className={calendarCss.answer}>
        {problem !== undefined ? (
          <span className={textCss.problem}>{problem}</span>
        ) : (
          answer && (
            <>
              <strong className={calendarCss.moss}>
                {answer.total === 0
                  ? say('None of the {label} is free.', { label: target.label })
                  : say('{total} free', { total: formatCount(answer.total) })}
              </strong>
              {some && (
                <span className={textCss.faded}>
                  {' '}
                  {say('as far as your role sees {label}', { label: table.label })}
                </span>
              )}
            </>
          )
        )}
        {free.length > 0 && <span className={textCss.faded}>{say('Enter a record in')}</span>}
        {free.slice(0, SHOWN).map((lane) => (
          <Chip
            key={lane.id}
            size="small"
            variant="outlined"
            label={laneWords(lane)}
            onClick={() => onChoose(lane.id)}
          />
        ))}
        {answer && free.length > SHOWN && (
          <span className={textCss.faded}>
            {say('and {total} more, outlined below', { total: formatCount(answer.total - SHOWN) })}
          </span>
        )}
      </p>
    </section>
  );
}

/** So many free lanes are named beside the question. */
const SHOWN = 5;

const dates = fieldType('date');

/** A day as the office writes it. */
function DayInput({ label, day, onSet }: { label: string; day: string; onSet(day: string): void }) {
  return (
    <ParsedInput
      label={label}
      shown={dates.format(day, {})}
      className={calendarCss.day}
      parse={(typed) => dates.parse(typed, {})}
      onSet={onSet}
    />
  );
}
