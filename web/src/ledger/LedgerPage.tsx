import type { LineView } from '@fiche/core/api';
import { fieldType, formatDay } from '@fiche/core/fields';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useInfiniteQuery } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import {
  bySave,
  Changes,
  pageCss,
  Sentence,
  type Slot,
  showMoment,
  ThroughWords,
  textCss,
  useNotify,
  Waiting,
} from '../parts/index.ts';
import ledgerCss from './ledger.module.css';
import { VerifyLedger } from './VerifyLedger.tsx';

interface Page {
  readonly lines: readonly LineView[];
  readonly before: number | null;
}

const EVERY = '';
const KINDS = [
  { value: EVERY, label: 'of any kind' },
  { value: 'add', label: 'that added' },
  { value: 'change', label: 'that changed' },
  { value: 'archive', label: 'that archived' },
  { value: 'restore', label: 'that restored' },
  { value: 'erase', label: 'that erased' },
];

/** A day in the filter's sentence, typed as dates are typed everywhere. */
const daySlot = (
  key: string,
  label: string,
  none: string,
  day: string,
  onSet: (day: string) => void,
  notify: (words: string) => void,
): Slot => ({
  key,
  label,
  shown: day === EVERY ? none : formatDay(day),
  quiet: day === EVERY,
  pick: {
    kind: 'text',
    current: day === EVERY ? '' : formatDay(day),
    hint: `A day such as 17 Aug 2026; empty for ${none}.`,
  },
  onSet: (text) => {
    const read = fieldType('date').parse(text, {});
    if (read.ok) onSet(read.value === null ? EVERY : String(read.value));
    else notify(read.message);
  },
});

/** All lines of the cabinet, newest first, filtered by one sentence. */
export function LedgerPage() {
  const { cabinet, may } = useOffice();
  const notify = useNotify();
  const [account, setAccount] = useState(EVERY);
  const [table, setTable] = useState(EVERY);
  const [kind, setKind] = useState(EVERY);
  const [field, setField] = useState(EVERY);
  const [days, setDays] = useState({ from: EVERY, to: EVERY });
  const [search, setSearch] = useSearchParams();
  const opened = search.get('import') ?? EVERY;
  const query = useInfiniteQuery({
    queryKey: ['ledger', cabinet.id, account, table, kind, field, days, opened],
    initialPageParam: '',
    queryFn: ({ pageParam }) => {
      const asked = new URLSearchParams({
        ...(account ? { account } : {}),
        ...(table ? { table } : {}),
        ...(kind ? { kind } : {}),
        ...(table && field ? { field } : {}),
        ...(days.from ? { from: days.from } : {}),
        ...(days.to ? { to: days.to } : {}),
        ...(opened ? { import: opened } : {}),
        ...(pageParam ? { before: pageParam } : {}),
      });
      return send<Page>('GET', `/api/cabinets/${cabinet.id}/ledger?${asked}`);
    },
    getNextPageParam: (page) => (page.before === null ? undefined : String(page.before)),
  });
  if (!may('ledger'))
    return (
      <p className={pageCss.empty}>
        Your role does not allow the ledger. A record’s own history is shown beside the record.
      </p>
    );
  const pages = cabinet.forms.flatMap((form) =>
    form.slug ? [{ value: `page:${form.slug}`, label: `page:${form.slug}`, detail: 'public page' }] : [],
  );
  const people = [
    { value: EVERY, label: 'anyone' },
    ...cabinet.accounts.map((one) => ({ value: one.login, label: one.login, detail: one.displayName })),
    ...pages,
  ];
  const places = [
    { value: EVERY, label: 'everything' },
    ...cabinet.tables.map((one) => ({ value: one.id, label: one.label })),
  ];
  const chosenTable = cabinet.tables.find((one) => one.id === table);
  const labelOf = (options: readonly { value: string; label: string }[], value: string): string =>
    options.find((one) => one.value === value)?.label ?? '';
  const { data: fetched } = query;
  const lines = fetched?.pages.flatMap((page) => page.lines) ?? [];
  return (
    <div className={pageCss.body}>
      <h1 className={textCss.visuallyHidden}>Ledger</h1>
      <div className={ledgerCss.filter}>
        <Sentence
          parts={[
            'Changes by ',
            {
              key: 'account',
              label: 'account',
              shown: labelOf(people, account),
              pick: { kind: 'options', options: people, current: account },
              onSet: setAccount,
            },
            ' to ',
            {
              key: 'table',
              label: 'table',
              side: 'choices',
              shown: labelOf(places, table),
              pick: { kind: 'options', options: places, current: table },
              onSet: (id) => {
                setTable(id);
                setField(EVERY);
              },
            },
            ...(chosenTable
              ? [
                  ' in ',
                  {
                    key: 'field',
                    label: 'field',
                    side: 'choices' as const,
                    shown: chosenTable.fields.find((one) => one.id === field)?.label ?? 'any field',
                    quiet: field === EVERY,
                    pick: {
                      kind: 'options' as const,
                      options: [
                        { value: EVERY, label: 'any field' },
                        ...chosenTable.fields.map((one) => ({ value: one.id, label: one.label })),
                      ],
                      current: field,
                    },
                    onSet: setField,
                  },
                ]
              : []),
            ', ',
            {
              key: 'kind',
              label: 'kind of change',
              shown: labelOf(KINDS, kind),
              quiet: kind === EVERY,
              pick: { kind: 'options', options: KINDS, current: kind },
              onSet: setKind,
            },
            ', from ',
            daySlot('from', 'first day', 'the beginning', days.from, (from) => setDays({ ...days, from }), notify),
            ' to ',
            daySlot('to', 'last day', 'today', days.to, (to) => setDays({ ...days, to }), notify),
            ', newest first.',
          ]}
        />
        <VerifyLedger />
        {opened && (
          <p>
            Only the records of one import.{' '}
            <Button variant="text" onClick={() => setSearch({})}>
              Show all lines
            </Button>
          </p>
        )}
      </div>
      {query.isError && (
        <p className={pageCss.empty} role="alert">
          {query.error.message}
        </p>
      )}
      {query.isPending && <Waiting what="Reading the ledger…" />}
      {query.data && lines.length === 0 && (
        <p className={clsx(pageCss.empty, pageCss.listCard)}>
          No line matches. Choose “anyone” or “everything” to see more.
        </p>
      )}
      {lines.length > 0 && (
        <div className={pageCss.listCard}>
          <Table className={clsx(pageCss.list, ledgerCss.ledger)}>
            <TableHead>
              <TableRow>
                <TableCell scope="col">When</TableCell>
                <TableCell scope="col">Account</TableCell>
                <TableCell scope="col">Record</TableCell>
                <TableCell scope="col">What changed</TableCell>
                <TableCell scope="col">Through</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {bySave(lines).map((save) => (
                <SaveRow key={save[0]?.id} save={save} onImport={(id) => setSearch({ import: String(id) })} />
              ))}
            </TableBody>
          </Table>
        </div>
      )}
      {query.hasNextPage && (
        <p className={ledgerCss.more}>
          <Button disabled={query.isFetchingNextPage} onClick={() => void query.fetchNextPage()}>
            Show older lines
          </Button>
        </p>
      )}
    </div>
  );
}

interface SaveRowProps {
  /** The lines of one save. */
  readonly save: readonly LineView[];
  /** Shows the records of an import. */
  onImport(id: number): void;
}

/** One save: the record that was written first with what changed, and the others, its lines, when it is opened. */
function SaveRow({ save, onImport }: SaveRowProps) {
  const { cabinet } = useOffice();
  const [open, setOpen] = useState(false);
  const [first, ...others] = save;
  if (!first) return null;
  const record = (line: LineView) => (
    <>
      <span className={textCss.faded}>{line.what}</span>{' '}
      {line.import !== null ? (
        <Button variant="text" onClick={() => onImport(Number(line.import))}>
          <strong>{line.title}</strong>
        </Button>
      ) : line.table ? (
        <Link to={`/${cabinet.id}/tables/${line.table}/${line.record}`}>
          <strong>{line.title}</strong>
        </Link>
      ) : (
        <strong>{line.title}</strong>
      )}
    </>
  );
  return (
    <>
      <TableRow>
        <TableCell className={pageCss.when}>{showMoment(first.at)}</TableCell>
        <TableCell className={pageCss.who}>{first.account}</TableCell>
        <TableCell>
          {record(first)}
          {others.length > 0 && (
            <div>
              <Button variant="text" aria-expanded={open} onClick={() => setOpen(!open)}>
                {open ? 'Show less' : `and ${others.length} more ${others.length === 1 ? 'record' : 'records'}`}
              </Button>
            </div>
          )}
        </TableCell>
        <TableCell>
          <Changes line={first} limit={6} />
        </TableCell>
        <TableCell className={textCss.faded}>
          <ThroughWords line={first} />
        </TableCell>
      </TableRow>
      {open &&
        others.map((line) => (
          <TableRow key={line.id}>
            <TableCell colSpan={2} />
            <TableCell>{record(line)}</TableCell>
            <TableCell colSpan={2}>
              <Changes line={line} limit={6} />
            </TableCell>
          </TableRow>
        ))}
    </>
  );
}
