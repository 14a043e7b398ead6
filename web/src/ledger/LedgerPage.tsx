import type { LineView } from '@fiche/core/api';
import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { Changes, Sentence, showMoment, Waiting } from '../parts/index.ts';
import { VerifyLedger } from './VerifyLedger.tsx';

interface Page {
  readonly lines: readonly LineView[];
  readonly before: number | null;
}

const EVERY = '';

/** All lines of the cabinet, newest first, filtered by one sentence. */
export function LedgerPage() {
  const { cabinet, may } = useOffice();
  const [account, setAccount] = useState(EVERY);
  const [table, setTable] = useState(EVERY);
  const query = useInfiniteQuery({
    queryKey: ['ledger', cabinet.id, account, table],
    initialPageParam: '',
    queryFn: ({ pageParam }) => {
      const asked = new URLSearchParams({
        ...(account ? { account } : {}),
        ...(table ? { table } : {}),
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
              onSet: setTable,
            },
            ', newest first.',
          ]}
        />
        <VerifyLedger />
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
                    {line.table ? (
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
