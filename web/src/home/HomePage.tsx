import type { LineView, ListedForm, OverviewView } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import { useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { type ReactNode, useState } from 'react';
import { Link } from 'react-router-dom';
import { countWords, send, useOffice, useOverview } from '../client/index.ts';
import { Card, Changes, pageCss, sayWith, showMoment, textCss } from '../parts/index.ts';
import { recentRecords, unfinishedWork } from '../records/index.ts';
import { FirstSteps } from './FirstSteps.tsx';
import homeCss from './home.module.css';
import { longDay } from './longDay.ts';
import { ArrangeHome, PinnedViews } from './PinnedViews.tsx';

/** Where a day starts: one’s forms, work left unfinished, records lately open, what others changed. */
export function HomePage() {
  const { cabinet, may } = useOffice();
  const overview = useOverview();
  const [arranging, setArranging] = useState(false);
  const live = cabinet.forms.filter((form) => form.liveVersion !== null && !form.archived);
  if (cabinet.tables.length === 0) return <FirstSteps />;
  const use = (id: string): OverviewView['forms'][number] | undefined => overview?.forms.find((one) => one.id === id);
  // Most used first: by oneself, then by all.
  const forms = [...live].sort(
    (a, b) => (use(b.id)?.mine ?? 0) - (use(a.id)?.mine ?? 0) || (use(b.id)?.filled ?? 0) - (use(a.id)?.filled ?? 0),
  );
  return (
    <div className={pageCss.body}>
      <div className={pageCss.head}>
        <h1>{longDay()}</h1>
        <span className={textCss.faded}>{todayWords(overview)}</span>
        <ArrangeHome arranging={arranging} onArrange={setArranging} />
      </div>
      <div className={homeCss.home}>
        <div className={homeCss.forms}>
          {forms.length === 0 && (
            <p className={clsx(pageCss.empty, pageCss.listCard)}>
              <strong>{say('No form is published yet.')}</strong>{' '}
              {may('build')
                ? sayWith('Make one from a table on the {link} page.', {
                    link: <Link to={`/${cabinet.id}/forms?new`}>{say('Forms')}</Link>,
                  })
                : say('As soon as a builder publishes a form, it is listed here.')}
            </p>
          )}
          {forms.map((form) => (
            <FormCard key={form.id} form={form} use={use(form.id)} known={overview !== undefined} />
          ))}
          <PinnedViews wide arranging={arranging} />
          <TablesCard overview={overview} />
        </div>
        <div className={homeCss.side}>
          <WaitingAnswers />
          <Unfinished overview={overview} />
          <Recent />
          <ChangedByOthers />
          <PinnedViews wide={false} arranging={arranging} />
        </div>
      </div>
    </div>
  );
}

/** What was done in the last days, in one line. */
function todayWords(overview: OverviewView | undefined): string {
  if (!overview) return '';
  const filled = overview.forms.reduce((sum, one) => sum + one.filled, 0);
  const mine = overview.forms.reduce((sum, one) => sum + one.mine, 0);
  if (filled === 0) return say('Nothing was entered in the last 7 days.');
  return say('{filled} entered in the last 7 days, {mine} by you', {
    filled: sayCount(filled, '{count} record', '{count} records'),
    mine: formatCount(mine),
  });
}

interface FormCardProps {
  readonly form: ListedForm;
  readonly use: OverviewView['forms'][number] | undefined;
  /** Whether it is known yet how forms were used. */
  readonly known: boolean;
}

function FormCard({ form, use, known }: FormCardProps) {
  const { cabinet, tables, may } = useOffice();
  const path = `/${cabinet.id}/forms/${form.id}`;
  const opensAsList = form.opensOn !== 'blank';
  const table = tables.get(form.table)?.label ?? '';
  return (
    <Card
      small
      title={form.label}
      heading={
        <Link to={may('add', form.table) || opensAsList ? path : `/${cabinet.id}/tables/${form.table}`}>
          {form.label}
        </Link>
      }
      end={
        (may('add', form.table) && form.may.add) || opensAsList ? (
          <Link
            to={opensAsList ? path : `${path}/new`}
            aria-label={`${opensAsList ? say('Open') : say('New')}: ${form.label}`}
          >
            {opensAsList ? say('Open') : say('New')}
          </Link>
        ) : undefined
      }
    >
      <p className={homeCss.line}>
        {use && use.filled > 0 && use.filledAt
          ? say('{filled} in the last 7 days, the last {filledAt} by {by}', {
              filled: formatCount(use.filled),
              filledAt: showMoment(use.filledAt),
              by: use.filledBy?.startsWith('page:') ? say('the public page') : (use.filledBy ?? ''),
            })
          : known
            ? say('For {table}; not used in the last 7 days', { table })
            : say('For {table}', { table })}
        {form.held !== undefined && form.held > 0 && may('change', form.table) && (
          <>
            {' · '}
            <Link className={homeCss.waits} to={`${path}/held`}>
              {sayCount(form.held, '{count} answer held', '{count} answers held')}
            </Link>
          </>
        )}
      </p>
    </Card>
  );
}

/** Where to look things up: the tables with their records counted. */
function TablesCard({ overview }: { overview: OverviewView | undefined }) {
  const { cabinet } = useOffice();
  return (
    <div className={homeCss.tables}>
      <Card small title={say('Look up')}>
        <ul className={homeCss.list}>
          {cabinet.tables
            .filter((table) => table.kind === 'records' && !table.archived)
            .map((table) => {
              const seen = overview?.tables.find((one) => one.id === table.id);
              return (
                <Row key={table.id} act={seen && <span className={textCss.faded}>{countWords(seen.records)}</span>}>
                  <Link to={`/${cabinet.id}/tables/${table.id}`}>{table.label}</Link>{' '}
                  <span className={textCss.faded}>{table.description}</span>
                </Row>
              );
            })}
        </ul>
      </Card>
    </div>
  );
}

/** One line of a card of the side column: words, and what can be done. */
function Row({ children, act }: { children: ReactNode; act?: ReactNode }) {
  return (
    <li className={homeCss.row}>
      <span>{children}</span>
      {act}
    </li>
  );
}

/** Answers of public pages that wait for somebody to release or discard them. */
function WaitingAnswers() {
  const { cabinet, may } = useOffice();
  const waiting = cabinet.forms.filter((form) => (form.held ?? 0) > 0 && !form.archived && may('change', form.table));
  if (waiting.length === 0) return null;
  return (
    <Card small title={say('Answers that wait')}>
      <ul className={homeCss.list}>
        {waiting.map((form) => (
          <Row
            key={form.id}
            act={
              <Link
                to={`/${cabinet.id}/forms/${form.id}/held`}
                aria-label={say('Look at the answers to {label}', { label: form.label })}
              >
                {say('Look at them')}
              </Link>
            }
          >
            {form.label}:{' '}
            <span className={homeCss.waits}>
              {sayCount(form.held ?? 0, '{count} answer is held', '{count} answers are held')}
            </span>
          </Row>
        ))}
      </ul>
    </Card>
  );
}

/** Entries that were left unsaved in this browser; for a builder also drafts of forms that differ from what is live. */
function Unfinished({ overview }: { overview: OverviewView | undefined }) {
  const { cabinet, tables, session, may } = useOffice();
  const entries = unfinishedWork(session.login ?? '').flatMap(({ kind, of, record, work }) => {
    const named = kind === 'forms' ? cabinet.forms.find((one) => one.id === of) : tables.get(of);
    return named ? [{ path: `/${cabinet.id}/${kind}/${of}/${record}`, label: named.label, record, work }] : [];
  });
  const drafts = may('build')
    ? cabinet.forms.filter((one) => !one.archived && (one.changedSince || one.liveVersion === null))
    : [];
  if (entries.length + drafts.length === 0) return null;
  return (
    <Card small title={say('Unfinished')}>
      <ul className={homeCss.list}>
        {entries.map(({ path, label, record, work }) => (
          <Row
            key={path}
            act={
              <Link to={path} aria-label={say('Continue {label}', { label })}>
                {say('Continue')}
              </Link>
            }
          >
            {say('{label}, {record}: {count} entered', {
              label,
              record: record === 'new' ? say('a new record') : say('record {record}', { record }),
              count: sayCount(work.unsaved.fields.length, '1 field', '{count} fields'),
            })}{' '}
            <span className={textCss.faded}>{showMoment(work.at)}</span>
          </Row>
        ))}
        {drafts.map((form) => {
          const found = overview?.forms.find((one) => one.id === form.id);
          return (
            <Row
              key={form.id}
              act={
                <Link
                  to={`/${cabinet.id}/forms/${form.id}/edit`}
                  aria-label={say('Edit form {label}', { label: form.label })}
                >
                  {say('Edit form')}
                </Link>
              }
            >
              {sayWith('Draft of {name}{liveVersion}', {
                name: <strong>{form.label}</strong>,
                liveVersion:
                  form.liveVersion === null
                    ? say(', not published')
                    : say(', changed since version {liveVersion}', { liveVersion: form.liveVersion }),
              })}
              {found && found.must > 0 && (
                <span className={homeCss.waits}>, {sayCount(found.must, '{count} problem', '{count} problems')}</span>
              )}
            </Row>
          );
        })}
      </ul>
    </Card>
  );
}

function Recent() {
  const { cabinet, session } = useOffice();
  const recent = recentRecords(session.login ?? '', cabinet.id);
  if (recent.length === 0) return null;
  return (
    <Card small title={say('Recently open')}>
      <ul className={homeCss.list}>
        {recent.map((one) => (
          <Row key={one.path} act={<span className={textCss.faded}>{one.through}</span>}>
            <Link to={`/${cabinet.id}/${one.path}`}>{one.title}</Link>
          </Row>
        ))}
      </ul>
    </Card>
  );
}

/** The latest saves of others, each with the record that it was about, as far as one reads their histories. */
function ChangedByOthers() {
  const { cabinet, may } = useOffice();
  const query = useQuery({
    queryKey: ['ledger', cabinet.id, 'home'],
    queryFn: () => send<{ lines: LineView[] }>('GET', `/api/cabinets/${cabinet.id}/home/changes`),
    staleTime: 0,
  });
  const lines = query.data?.lines ?? [];
  if (lines.length === 0) return null;
  return (
    <Card
      small
      history
      title={say('Changed by others')}
      end={may('ledger') ? <Link to={`/${cabinet.id}/ledger`}>{say('Ledger')}</Link> : undefined}
    >
      <ul className={homeCss.list}>
        {lines.map((line) => (
          <li key={line.id} className={homeCss.row}>
            <span>
              <span className={homeCss.when}>
                {showMoment(line.at)} {line.account}
              </span>{' '}
              {line.table ? (
                <Link to={`/${cabinet.id}/tables/${line.table}/${line.record}`}>{line.title}</Link>
              ) : (
                line.title
              )}
              <Changes line={line} limit={1} />
            </span>
          </li>
        ))}
      </ul>
    </Card>
  );
}
