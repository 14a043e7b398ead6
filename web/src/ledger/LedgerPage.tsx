import type { LineView } from '@fiche/core/api';
import { fieldType, formatDay } from '@fiche/core/fields';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { Changes, Sentence, type Slot, showMoment, useSay, Waiting } from '../parts/index.ts';
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
  say: (words: string) => void,
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
    else say(read.message);
  },
});

/** All lines of the cabinet, newest first, filtered by one sentence. */
export function LedgerPage() {
  const { cabinet, may } = useOffice();
  const say = useSay();
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
      <p className="empty">Your role does not allow the ledger. A record’s own history stands beside the record.</p>
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
    <div className="page-body">
      <h1 className="visually-hidden">Ledger</h1>
      <div className="ledger-filter">
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
            daySlot('from', 'first day', 'the beginning', days.from, (from) => setDays({ ...days, from }), say),
            ' to ',
            daySlot('to', 'last day', 'today', days.to, (to) => setDays({ ...days, to }), say),
            ', newest first.',
          ]}
        />
        <VerifyLedger />
        {opened && (
          <p>
            Only the records of one import.{' '}
            <button type="button" className="link" onClick={() => setSearch({})}>
              Show all lines
            </button>
          </p>
        )}
      </div>
      {query.isError && (
        <p className="empty" role="alert">
          {query.error.message}
        </p>
      )}
      {query.isPending && <Waiting what="Reading the ledger…" />}
      {query.data && lines.length === 0 && (
        <p className="empty list-card">No line fits. Choose “anyone” or “everything” to see more.</p>
      )}
      {lines.length > 0 && (
        <div className="list-card">
          <table className="list ledger">
            <thead>
              <tr>
                <th scope="col">When</th>
                <th scope="col">Account</th>
                <th scope="col">Record</th>
                <th scope="col">What changed</th>
                <th scope="col">Through</th>
              </tr>
            </thead>
            <tbody>
              {lines.map((line) => (
                <tr key={line.id}>
                  <td className="when">{showMoment(line.at)}</td>
                  <td className="who">{line.account}</td>
                  <td>
                    <span className="faded">{line.what}</span>{' '}
                    {line.import !== null ? (
                      <button type="button" className="link" onClick={() => setSearch({ import: String(line.import) })}>
                        <strong>{line.title}</strong>
                      </button>
                    ) : line.table ? (
                      <Link to={`/${cabinet.id}/tables/${line.table}/${line.record}`}>
                        <strong>{line.title}</strong>
                      </Link>
                    ) : (
                      <strong>{line.title}</strong>
                    )}
                  </td>
                  <td>
                    <Changes line={line} limit={6} />
                  </td>
                  <td className="faded">{line.through}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {query.hasNextPage && (
        <p className="more">
          <button
            type="button"
            className="button"
            disabled={query.isFetchingNextPage}
            onClick={() => void query.fetchNextPage()}
          >
            Show older lines
          </button>
        </p>
      )}
    </div>
  );
}
