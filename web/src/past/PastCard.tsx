import type { PastRecord } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { IdOfForm, TableId } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { send } from '../client/index.ts';
import { cardCss, ledgerLineCss, pageCss, printAddress, showMoment, textCss, Waiting } from '../parts/index.ts';
import { MomentInput, PastBar } from './PastBar.tsx';
import pastCss from './past.module.css';
import { usePast } from './usePast.ts';

interface PastCardProps {
  readonly table: TableId;
  readonly record: string;
  /** The form whose lines belong to the record. */
  readonly formId?: IdOfForm;
  readonly asOf: string;
}

interface Answer {
  readonly record: PastRecord | null;
  readonly since: string;
}

/** Today, where a moment is asked for. */
const NOW = 'now';

function usePastRecord({ table, record, formId }: Omit<PastCardProps, 'asOf'>, at: string | undefined) {
  const asked = new URLSearchParams({ at: at ?? '', ...(formId === undefined ? {} : { form: formId }) });
  return useQuery({
    queryKey: ['past', table, record, formId, at],
    queryFn: () => send<Answer>('GET', `/api/tables/${table}/records/${record}/as-of?${asked}`),
    enabled: at !== undefined,
    retry: false,
    ...(at === NOW ? { staleTime: 0, gcTime: 0 } : {}),
  });
}

/** A record as it stood at a moment: with its fields, titles, reference cards and lines of then; compared with another moment. */
export function PastCard(props: PastCardProps) {
  const { asOf } = props;
  const { and, setAsOf, setAnd } = usePast();
  const then = usePastRecord(props, asOf);
  const other = usePastRecord(props, and);
  const record = then.data?.record;
  const problem = then.error ?? other.error;
  return (
    <div className={pageCss.body}>
      <PastBar asOf={asOf} onChange={setAsOf} onClose={() => setAsOf(undefined)}>
        <Button
          variant="text"
          href={printAddress(props.table, props.record, { form: props.formId, asOf })}
          target="_blank"
        >
          {say('Print')}
        </Button>
        {and === undefined ? (
          <Button variant="text" onClick={() => setAnd(NOW)}>
            {say('Compare with today')}
          </Button>
        ) : (
          <>
            <strong>{say('compared with')}</strong>
            {and === NOW ? (
              say('today')
            ) : (
              <MomentInput key={and} label={say('Moment to compare with')} moment={and} onSet={setAnd} />
            )}
            <Button variant="text" onClick={() => setAnd(and === NOW ? asOf : NOW)}>
              {and === NOW ? say('Another moment') : say('Today')}
            </Button>
            <Button variant="text" onClick={() => setAnd(undefined)}>
              {say('Stop comparing')}
            </Button>
          </>
        )}
      </PastBar>
      {problem && (
        <p className={textCss.problem} role="alert">
          {problem.message}
        </p>
      )}
      {!then.data && !problem && <Waiting what={say('Reading the ledger…')} />}
      {then.data && !record && (
        <p className={pageCss.empty} role="status">
          {say('It was not there yet: it was added on {since}.', { since: showMoment(then.data.since) })}
        </p>
      )}
      {record && and !== undefined && other.data && <Compared record={record} against={other.data.record} />}
      {record && (
        <PastSheet record={record} against={and === undefined ? undefined : (other.data?.record ?? undefined)} />
      )}
    </div>
  );
}

/** Says where there is nothing to see of a comparison: the record was not there, or nothing of it differs. */
function Compared({ record, against }: { record: PastRecord; against: PastRecord | null }) {
  const shown = ({ archived, values, cards, lines }: PastRecord): string =>
    JSON.stringify([archived, values, cards, lines]);
  if (against !== null && shown(record) !== shown(against)) return null;
  return (
    <p className={clsx(textCss.faded, pastCss.compared)} role="status">
      {against === null
        ? say('At the moment that it is compared with, it was not there yet.')
        : say('Nothing of it differs between the two moments.')}
    </p>
  );
}

type Shown = PastRecord['values'];

function PastSheet({ record, against }: { record: PastRecord; against: PastRecord | undefined }) {
  return (
    <article
      className={clsx(cardCss.card, pastCss.card)}
      aria-label={say('{table} {title}, as it stood', { table: record.table, title: record.title })}
    >
      <header className={cardCss.head}>
        <h1>{record.title}</h1>
        <span className={textCss.faded}>{record.table}</span>
        <span className={cardCss.end}>
          {record.archived && <span className={textCss.notice}>{say('archived then')}</span>}
          <span className={textCss.stamp}>
            {say('version {version}, saved by {by} on {at}', {
              version: record.version,
              by: record.changed.by,
              at: showMoment(record.changed.at),
            })}
          </span>
        </span>
      </header>
      <section className={cardCss.section} aria-label={say('Fields')}>
        <Values values={record.values} against={against?.values} />
      </section>
      {record.cards.map((card) => (
        <section
          key={card.label}
          className={cardCss.section}
          aria-label={say('{label}, reference card', { label: card.label })}
        >
          <h2 className={pageCss.partTitle}>
            {card.label}: {card.title}
          </h2>
          <Values values={card.values} against={against?.cards.find((one) => one.label === card.label)?.values} />
        </section>
      ))}
      {record.lines.map((of) => (
        <Lines key={of.table} of={of} against={against?.lines.find((one) => one.table === of.table)} />
      ))}
    </article>
  );
}

/** Fields with their values; beside another moment, what differs as before and after. */
function Values({ values, against }: { values: Shown; against: Shown | undefined }) {
  const other = against && new Map(against.map((one) => [one.field, one]));
  const gone = (against ?? []).filter((one) => !values.some((value) => value.field === one.field));
  return (
    <dl className={pastCss.values}>
      {values.map(({ field, label, value }) => (
        <div key={field}>
          <dt>{label}</dt>
          <dd>{other ? <Differing before={value} after={other.get(field)?.value ?? ''} /> : value || <Blank />}</dd>
        </div>
      ))}
      {gone.map(({ field, label, value }) => (
        <div key={field}>
          <dt>{label}</dt>
          <dd>
            <Differing before="" after={value} />
          </dd>
        </div>
      ))}
    </dl>
  );
}

const Blank = () => <span className={textCss.faded}>{say('blank')}</span>;

function Differing({ before, after }: { before: string; after: string }) {
  if (before === after) return before || <Blank />;
  return (
    <span className={ledgerLineCss.change}>
      <del>{before || say('blank')}</del> <span aria-hidden="true">→</span>
      <span className={textCss.visuallyHidden}>{say('became')}</span> <ins>{after || say('blank')}</ins>
    </span>
  );
}

type LinesThen = PastRecord['lines'][number];

/** The lines of then as a table; beside another moment, those that came and went as well. */
function Lines({ of, against }: { of: LinesThen; against: LinesThen | undefined }) {
  const rows = [
    ...of.rows,
    ...(against?.rows.filter((row) => !of.rows.some((one) => one.record === row.record)) ?? []),
  ];
  const labels = rows[0]?.values ?? [];
  const valueIn = (from: LinesThen | undefined, record: number, field: string): string =>
    from?.rows.find((row) => row.record === record)?.values.find((one) => one.field === field)?.value ?? '';
  return (
    <section className={cardCss.section} aria-label={of.label}>
      <h2 className={pageCss.partTitle}>
        {of.label} <span className={textCss.faded}>{of.rows.length}</span>
      </h2>
      {rows.length === 0 ? (
        <p className={textCss.faded}>{say('There were no lines.')}</p>
      ) : (
        <div className={pastCss.lines}>
          <Table size="small">
            <TableHead>
              <TableRow>
                {labels.map(({ field, label, numeric }) => (
                  <TableCell key={field} align={numeric ? 'right' : 'left'}>
                    {label}
                  </TableCell>
                ))}
              </TableRow>
            </TableHead>
            <TableBody>
              {rows.map(({ record }) => (
                <TableRow key={record}>
                  {labels.map(({ field, numeric }) => (
                    <TableCell key={field} align={numeric ? 'right' : 'left'}>
                      {against ? (
                        <Differing before={valueIn(of, record, field)} after={valueIn(against, record, field)} />
                      ) : (
                        valueIn(of, record, field)
                      )}
                    </TableCell>
                  ))}
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </div>
      )}
    </section>
  );
}
