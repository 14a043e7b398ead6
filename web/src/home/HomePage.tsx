import type { LineView, ListedForm, OverviewView } from '@fiche/core/api';
import { formatCount } from '@fiche/core/office';
import { useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import type { ReactNode } from 'react';
import { Link } from 'react-router-dom';
import { countWords, send, useOffice, useOverview } from '../client/index.ts';
import { bySave, Card, Changes, pageCss, showMoment, textCss } from '../parts/index.ts';
import { recentRecords, unfinishedWork } from '../records/index.ts';
import { FirstSteps } from './FirstSteps.tsx';
import homeCss from './home.module.css';
import { longDay } from './longDay.ts';

/** Where a day starts: one’s forms, work left unfinished, records lately open, what others changed. */
export function HomePage() {
  const { cabinet, may } = useOffice();
  const overview = useOverview();
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
      </div>
      <div className={homeCss.home}>
        <div className={homeCss.forms}>
          {forms.length === 0 && (
            <p className={clsx(pageCss.empty, pageCss.listCard)}>
              <strong>No form is published yet.</strong>{' '}
              {may('build') ? (
                <>
                  Make one from a table on the <Link to={`/${cabinet.id}/forms?new`}>Forms</Link> page.
                </>
              ) : (
                'As soon as a builder publishes a form, it is listed here.'
              )}
            </p>
          )}
          {forms.map((form) => (
            <FormCard key={form.id} form={form} use={use(form.id)} />
          ))}
          <TablesCard overview={overview} />
        </div>
        <div className={homeCss.side}>
          <Unfinished overview={overview} />
          <Recent />
          {may('ledger') && <ChangedByOthers />}
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
  if (filled === 0) return 'Nothing was entered in the last 7 days.';
  return `${formatCount(filled)} ${filled === 1 ? 'record' : 'records'} entered in the last 7 days, ${formatCount(mine)} by you`;
}

function FormCard({ form, use }: { form: ListedForm; use: OverviewView['forms'][number] | undefined }) {
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
          <Link to={opensAsList ? path : `${path}/new`} aria-label={`${opensAsList ? 'Open' : 'New'}: ${form.label}`}>
            {opensAsList ? 'Open' : 'New'}
          </Link>
        ) : undefined
      }
    >
      <p className={homeCss.line}>
        {use && use.filled > 0 && use.filledAt
          ? `${formatCount(use.filled)} in the last 7 days, the last ${showMoment(use.filledAt)} by ${use.filledBy?.startsWith('page:') ? 'the public page' : use.filledBy}`
          : `For ${table}; not used in the last 7 days`}
        {form.held !== undefined && form.held > 0 && may('change', form.table) && (
          <>
            {' · '}
            <Link className={homeCss.waits} to={`${path}/held`}>
              {formatCount(form.held)} {form.held === 1 ? 'answer' : 'answers'} held
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
      <Card small title="Look up">
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
    <Card small title="Unfinished">
      <ul className={homeCss.list}>
        {entries.map(({ path, label, record, work }) => (
          <Row
            key={path}
            act={
              <Link to={path} aria-label={`Continue ${label}`}>
                Continue
              </Link>
            }
          >
            {label}, {record === 'new' ? 'a new record' : `record ${record}`}:{' '}
            {work.unsaved.fields.length === 1 ? '1 field' : `${work.unsaved.fields.length} fields`} entered{' '}
            <span className={textCss.faded}>{showMoment(work.at)}</span>
          </Row>
        ))}
        {drafts.map((form) => {
          const found = overview?.forms.find((one) => one.id === form.id);
          return (
            <Row
              key={form.id}
              act={
                <Link to={`/${cabinet.id}/forms/${form.id}/edit`} aria-label={`Edit form ${form.label}`}>
                  Edit form
                </Link>
              }
            >
              Draft of <strong>{form.label}</strong>
              {form.liveVersion === null ? ', not published' : `, changed since version ${form.liveVersion}`}
              {found && found.must > 0 && (
                <span className={homeCss.waits}>
                  , {found.must} {found.must === 1 ? 'problem' : 'problems'}
                </span>
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
    <Card small title="Recently open">
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

const SHOWN = 6;

/** The latest saves of others, each with the record that it was about. */
function ChangedByOthers() {
  const { cabinet, session } = useOffice();
  const query = useQuery({
    queryKey: ['ledger', cabinet.id, 'home'],
    queryFn: () => send<{ lines: LineView[] }>('GET', `/api/cabinets/${cabinet.id}/ledger?limit=60`),
    staleTime: 0,
  });
  const others = (query.data?.lines ?? []).filter((line) => line.account !== session.login);
  const lines = bySave(others)
    .flatMap(([first]) => first ?? [])
    .slice(0, SHOWN);
  if (lines.length === 0) return null;
  return (
    <Card small history title="Changed by others" end={<Link to={`/${cabinet.id}/ledger`}>Ledger</Link>}>
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
