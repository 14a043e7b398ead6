import type { LedgerOverview } from '@fiche/core/api';
import { formatDay } from '@fiche/core/fields';
import { say, sayCount } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useQuery } from '@tanstack/react-query';
import { max } from 'd3-array';
import { scaleBand, scaleLinear } from 'd3-scale';
import { send, useOffice } from '../client/index.ts';
import { showMoment, textCss, Waiting } from '../parts/index.ts';
import ledgerCss from './ledger.module.css';
import type { LedgerFilter } from './ledgerFilter.ts';
import { type Bar, barsOf, OTHERS } from './timelineBars.ts';

const WIDTH = 1_000;
const HEIGHT = 120;
const FOOT = 18;

interface TimelineProps {
  /** The filter as the server is asked with it. */
  readonly asked: Readonly<Record<string, string>>;
  /** Narrows the lines below to what was clicked. */
  onNarrow(filter: Partial<LedgerFilter>): void;
}

/** The saves that the filter finds by time and person, and those that stand out. */
export function Timeline({ asked, onNarrow }: TimelineProps) {
  const { cabinet } = useOffice();
  const query = useQuery({
    queryKey: ['ledger', cabinet.id, 'overview', asked],
    queryFn: () =>
      send<LedgerOverview>('GET', `/api/cabinets/${cabinet.id}/ledger/overview?${new URLSearchParams(asked)}`),
  });
  if (query.isError)
    return (
      <p className={textCss.problem} role="alert">
        {query.error.message}
      </p>
    );
  if (!query.data) return <Waiting what={say('Counting the changes…')} />;
  return (
    <div className={ledgerCss.overview}>
      <Bars overview={query.data} onNarrow={onNarrow} />
      <Unusual unusual={query.data.unusual} onNarrow={onNarrow} />
    </div>
  );
}

const saves = (count: number): string => sayCount(count, '{count} save', '{count} saves');
const dayOf = (begin: string): string => formatDay(begin.slice(0, 10));

/** The first and last day that a bar stands for. */
function daysOf({ begin }: Bar, step: LedgerOverview['step']): { from: string; to: string } {
  const from = begin.slice(0, 10);
  const last = new Date(Date.parse(`${from}T00:00Z`) + 6 * 86_400_000).toISOString().slice(0, 10);
  return { from, to: step === 'week' ? last : from };
}

function Bars({ overview, onNarrow }: { overview: LedgerOverview } & Pick<TimelineProps, 'onNarrow'>) {
  const { bars, accounts } = barsOf(overview);
  const { from, to, step } = overview;
  const most = max(bars, (bar) => bar.total) ?? 0;
  const x = scaleBand(
    bars.map((bar) => bar.begin),
    [0, WIDTH],
  ).paddingInner(0.15);
  const y = scaleLinear([0, Math.max(most, 1)], [HEIGHT - FOOT, 4]);
  const all = bars.reduce((n, bar) => n + bar.total, 0);
  const words = say('{all} from {from} to {to}, by {step} and person', {
    all: saves(all),
    from: formatDay(from),
    to: formatDay(to),
    step,
  });
  const colour = (account: string): string => `var(--bar-${account === OTHERS ? 'others' : accounts.indexOf(account)})`;
  return (
    <figure className={ledgerCss.timeline}>
      <figcaption>
        <strong>{words}</strong>
        <span className={ledgerCss.key}>
          {accounts.map((account) => (
            <span key={account}>
              <span aria-hidden="true" className={ledgerCss.swatch} style={{ background: colour(account) }} />
              {account}
            </span>
          ))}
        </span>
      </figcaption>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={words} preserveAspectRatio="none">
        {bars.map((bar) => (
          <g key={bar.begin}>
            {bar.parts.map((part) => (
              <rect
                key={part.account}
                x={x(bar.begin)}
                width={x.bandwidth()}
                y={y(part.from + part.count)}
                height={y(part.from) - y(part.from + part.count)}
                fill={colour(part.account)}
              />
            ))}
          </g>
        ))}
        <line x1={0} x2={WIDTH} y1={HEIGHT - FOOT} y2={HEIGHT - FOOT} stroke="var(--rule)" />
      </svg>
      <p className={ledgerCss.ends}>
        <span>{formatDay(from)}</span>
        <span>{say('at most {most}', { most: saves(most) })}</span>
        <span>{formatDay(to)}</span>
      </p>
      <details>
        <summary>{say('As a table')}</summary>
        <div className={ledgerCss.counts}>
          <Table size="small">
            <TableHead>
              <TableRow>
                <TableCell scope="col">
                  {step === 'week' ? say('Week from') : step === 'day' ? say('Day') : say('Hour')}
                </TableCell>
                <TableCell scope="col">{say('Saves')}</TableCell>
                <TableCell scope="col">{say('By')}</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {bars
                .filter((bar) => bar.total > 0)
                .reverse()
                .map((bar) => (
                  <TableRow key={bar.begin}>
                    <TableCell>
                      <Button
                        variant="text"
                        className={textCss.smallButton}
                        onClick={() => onNarrow(daysOf(bar, step))}
                      >
                        {dayOf(bar.begin)}
                        {step === 'hour' ? `, ${bar.begin.slice(11)}` : ''}
                      </Button>
                    </TableCell>
                    <TableCell>{formatCount(bar.total)}</TableCell>
                    <TableCell>
                      {bar.parts.map((part) => `${part.account} ${formatCount(part.count)}`).join(', ')}
                    </TableCell>
                  </TableRow>
                ))}
            </TableBody>
          </Table>
        </div>
      </details>
    </figure>
  );
}

type OneUnusual = LedgerOverview['unusual'][number];

/** What stands out, in words, and the filter that shows its lines. */
function unusualWords(one: OneUnusual): { words: string; filter: Partial<LedgerFilter> } {
  const { account, count, day } = one;
  const on = { account, from: day, to: day };
  switch (one.kind) {
    case 'burst':
      return {
        words: say('{count} by {account} within ten minutes from {at}', {
          count: saves(count),
          account,
          at: showMoment(one.at ?? ''),
        }),
        filter: on,
      };
    case 'night':
      return {
        words: say('{count} by {account} in the night of {day}', { count: saves(count), account, day: formatDay(day) }),
        filter: { account, hours: 'night', from: day, to: nextDay(day) },
      };
    case 'erased':
      return {
        words: say('{count} erased by {account} on {day}', { count: formatCount(count), account, day: formatDay(day) }),
        filter: { ...on, kind: 'erase' },
      };
    case 'asked':
      return {
        words: say('{count} by {account} on {day} that a rule asked about', {
          count: saves(count),
          account,
          day: formatDay(day),
        }),
        filter: { ...on, asked: 'yes' },
      };
    case 'direct':
      return {
        words: say('{count} in a direct database session ({account}) on {day}', {
          count: saves(count),
          account,
          day: formatDay(day),
        }),
        filter: on,
      };
  }
}

const nextDay = (day: string): string => new Date(Date.parse(`${day}T00:00Z`) + 86_400_000).toISOString().slice(0, 10);

function Unusual({ unusual, onNarrow }: { unusual: readonly OneUnusual[] } & Pick<TimelineProps, 'onNarrow'>) {
  const shown = [...unusual].sort((a, b) => (a.day < b.day ? 1 : -1));
  return (
    <section aria-label={say('What stands out')}>
      <h2 className={ledgerCss.standsOut}>{say('What stands out')}</h2>
      {shown.length === 0 && (
        <p className={textCss.faded}>
          {say('Nothing: no erasures, no work at night, no bursts, no direct sessions, no rule that asked.')}
        </p>
      )}
      <ul className={ledgerCss.unusual}>
        {shown.map((one) => {
          const { words, filter } = unusualWords(one);
          return (
            <li key={words}>
              <Button variant="text" className={textCss.smallButton} onClick={() => onNarrow(filter)}>
                {words}
              </Button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
