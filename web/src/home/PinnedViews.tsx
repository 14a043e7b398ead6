import type { HomeAnswer, ListedPage, ViewView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { civilNow, dayAfter, formatCount } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import { columnOf, listedText, periodSettings } from '@fiche/core/views';
import DownIcon from '@mui/icons-material/ArrowDownward';
import UpIcon from '@mui/icons-material/ArrowUpward';
import RemoveIcon from '@mui/icons-material/Close';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import type { ReactNode } from 'react';
import { Link } from 'react-router-dom';
import { ComingPeriods } from '../calendar/index.ts';
import { ChartView } from '../charts/index.ts';
import { send, useOffice } from '../client/index.ts';
import { Card, textCss, useNotify } from '../parts/index.ts';
import { addressOfRecords, useHome } from '../views/index.ts';
import homeCss from './home.module.css';

/** Charts over time take the width of the forms; all else stands beside what others changed. */
const isWide = ({ shown }: ViewView): boolean => shown.as === 'chart' && shown.chart.kind === 'time';

interface PinnedViewsProps {
  /** Those that take the width, or the others. */
  readonly wide: boolean;
  /** They are put in order and taken off. */
  readonly arranging: boolean;
}

/** The charts and views that somebody has on their Home. */
export function PinnedViews({ wide, arranging }: PinnedViewsProps) {
  const { tables } = useOffice();
  const { home, error, remove, swap } = useHome();
  const notify = useNotify();
  const act = (done: Promise<void>): void => void done.catch((failed: Error) => notify(failed.message));
  if (error && wide)
    return (
      <p className={textCss.problem} role="alert">
        {error.message}
      </p>
    );
  const shown = (home?.views ?? []).filter(({ view }) => isWide(view) === wide);
  return shown.map(({ table: id, view }, at) => {
    const table = tables.get(id);
    const [before, after] = [shown[at - 1]?.view, shown[at + 1]?.view];
    return (
      table && (
        <PinnedView
          key={view.id}
          table={table}
          view={view}
          acts={
            arranging && (
              <>
                <IconButton
                  aria-label={say('Move {label} up', { label: view.label })}
                  disabled={!before}
                  onClick={() => before && act(swap(view.id, before.id))}
                >
                  <UpIcon fontSize="small" />
                </IconButton>
                <IconButton
                  aria-label={say('Move {label} down', { label: view.label })}
                  disabled={!after}
                  onClick={() => after && act(swap(view.id, after.id))}
                >
                  <DownIcon fontSize="small" />
                </IconButton>
                <IconButton
                  aria-label={say('Take {label} off Home', { label: view.label })}
                  onClick={() => act(remove(view.id))}
                >
                  <RemoveIcon fontSize="small" />
                </IconButton>
              </>
            )
          }
        />
      )
    );
  });
}

/** Begins and ends putting the views of one’s Home in order; what was taken off can be put back. */
export function ArrangeHome({ arranging, onArrange }: { readonly arranging: boolean; onArrange(on: boolean): void }) {
  const { home, add } = useHome();
  const notify = useNotify();
  const { views = [], hidden = [] } = home ?? {};
  if (views.length + hidden.length === 0) return null;
  return (
    <span className={homeCss.arrange}>
      {arranging && <span className={textCss.faded}>{say('To add a view, open it and choose Put on Home.')}</span>}
      {arranging &&
        hidden.map((one) => (
          <Button
            key={one.view}
            variant="text"
            onClick={() => void add(one.view).catch((error: Error) => notify(error.message))}
          >
            {say('Put {label} back', { label: one.label })}
          </Button>
        ))}
      <Button variant="text" aria-pressed={arranging} onClick={() => onArrange(!arranging)}>
        {arranging ? say('Done') : say('Arrange Home')}
      </Button>
    </span>
  );
}

type HomeView = HomeAnswer['views'][number]['view'];

/** One view on Home, as it is shown: a chart, what comes next in its time, or its first records. */
function PinnedView({ table, view, acts }: { table: TableDefinition; view: HomeView; acts: ReactNode }) {
  const { cabinet } = useOffice();
  const path = `/${cabinet.id}/tables/${table.id}`;
  const address = `${path}?view=${view.id}`;
  return (
    <div className={homeCss.pinned}>
      <Card
        small
        title={view.label}
        heading={<Link to={address}>{view.label}</Link>}
        end={acts || <span className={textCss.faded}>{table.label}</span>}
      >
        {view.problem !== null ? (
          <p className={clsx(homeCss.line, textCss.problem)}>
            {view.problem} <Link to={address}>{say('Open it')}</Link>
          </p>
        ) : (
          <Shown {...{ table, view, path }} />
        )}
      </Card>
    </div>
  );
}

function Shown({ table, view, path }: { table: TableDefinition; view: ViewView; path: string }) {
  if (view.shown.as === 'chart')
    return (
      <ChartView
        onHome
        table={table}
        listing={listingOf(view)}
        name={view.label}
        addressOf={(where) => addressOfRecords(path, { view: view.id, where })}
      />
    );
  const settings = periodSettings(view.shown);
  const today = civilNow().slice(0, 10);
  return settings ? (
    <ComingPeriods
      table={table}
      listing={listingOf(view)}
      days={{ from: today, to: dayAfter(today, 1) }}
      address={`${path}?view=${view.id}`}
    />
  ) : (
    <FirstRecords {...{ table, view, path }} />
  );
}

const listingOf = ({ columns, filter, sort, group, frozen, shown }: ViewView) => ({
  columns,
  filter,
  sort,
  group,
  frozen,
  shown,
});

/** So many records of a view stand on Home. */
const SHOWN = 5;

/** How many records a view lists, and the first of them. */
function FirstRecords({ table, view, path }: { table: TableDefinition; view: ViewView; path: string }) {
  const { tables } = useOffice();
  const query = useQuery({
    queryKey: ['records', table.id, 'home', view.id, view.revision],
    queryFn: () => send<ListedPage>('GET', `/api/tables/${table.id}/views/${view.id}/records?limit=${SHOWN}`),
    staleTime: 0,
  });
  if (query.isError) return <p className={clsx(homeCss.line, textCss.problem)}>{query.error.message}</p>;
  if (!query.data) return <p className={homeCss.line}> </p>;
  const { records, total } = query.data;
  // The title says the record: of the columns, the first two that are not part of it say more.
  const columns = view.columns.flatMap((one) => columnOf(tables, table.id, one) ?? []);
  const more = (record: (typeof records)[number]): string =>
    columns
      .map((column) => listedText(record, column))
      .filter((text) => text !== '' && !record.title.includes(text))
      .slice(0, 2)
      .join(', ');
  return (
    <ul className={homeCss.list}>
      {records.map((record) => (
        <li key={record.id} className={homeCss.row}>
          <Link to={`${path}/${record.id}?view=${view.id}`}>{record.title}</Link>
          <span className={clsx(textCss.faded, homeCss.more)}>{more(record)}</span>
        </li>
      ))}
      <li className={homeCss.row}>
        <span className={textCss.faded}>
          {total === 0 ? say('Nothing in it now.') : say('{total} in all', { total: formatCount(total ?? 0) })}
        </span>
      </li>
    </ul>
  );
}
