import type { LedgerVerdict, TaskView } from '@fiche/core/api';
import type { Receipt } from '@fiche/core/history';
import { say, sayCount } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import { seesEverything } from '@fiche/core/rights';
import Button from '@mui/material/Button';
import Tooltip from '@mui/material/Tooltip';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { cancelTask, send, useOffice, useTask } from '../client/index.ts';
import { ProgressBar, pageCss, Sentence, takeAway, textCss, useNotify } from '../parts/index.ts';
import { exportsAll } from './ExportLines.tsx';
import ledgerCss from './ledger.module.css';

const n = (count: number): string => formatCount(count);

/** The window that seals leave open, in figures. */
function windowWords(lines: number, since: string | null): string {
  if (lines === 0 || since === null) return say('all of them sealed');
  const minutes = Math.max(1, Math.ceil((Date.now() - Date.parse(since)) / 60_000));
  return say('{lines} of the last {minutes} min not sealed yet', {
    lines: sayCount(lines, '{count} line', '{count} lines'),
    minutes: n(minutes),
  });
}

/** Holds the whole ledger against its chains, its seals and the records, and says what was found. */
export function VerifyLedger() {
  const { cabinet } = useOffice();
  const [begun, setBegun] = useState<TaskView>();
  const [over, setOver] = useState<TaskView>();
  const task = useTask(cabinet.id, begun, setOver);
  const verify = useMutation({
    mutationFn: () => send<TaskView>('POST', `/api/cabinets/${cabinet.id}/verifications`, {}),
    onSuccess: (started) => {
      setOver(undefined);
      setBegun(started);
    },
  });
  const running = verify.isPending || (begun !== undefined && over === undefined);
  const verdict = over?.state === 'done' ? (over.outcome as unknown as LedgerVerdict) : undefined;
  return (
    <div className={ledgerCss.verify} role="status">
      <Button disabled={running} onClick={() => verify.mutate()}>
        {running ? say('Verifying…') : say('Verify the ledger')}
      </Button>
      <Elsewhere />
      {running && task && (
        <>
          <ProgressBar label={say('Verifying')} share={task.total ? task.done / task.total : undefined} />
          <span>{say('{done} of {total} lines', { done: n(task.done), total: n(task.total ?? task.done) })}</span>
          <Button variant="text" onClick={() => void cancelTask(cabinet.id, task.id)}>
            {say('Cancel')}
          </Button>
        </>
      )}
      {verify.isError && <span className={textCss.problem}>{verify.error.message}</span>}
      {over && over.state !== 'done' && <span className={textCss.problem}>{over.message}</span>}
      {verdict && <Verdict verdict={verdict} />}
    </div>
  );
}

/** A receipt each day by mail: to an address outside the office, or to none. */
function ReceiptMail() {
  const { cabinet } = useOffice();
  const notify = useNotify();
  const queries = useQueryClient();
  const url = `/api/cabinets/${cabinet.id}/ledger/receipt-mail`;
  const key = ['receipt-mail', cabinet.id];
  const { data } = useQuery({ queryKey: key, queryFn: () => send<{ address: string | null }>('GET', url) });
  const keep = useMutation({
    mutationFn: (address: string | null) => send<{ address: string | null }>('PUT', url, { address }),
    onSuccess: (kept) => {
      queries.setQueryData(key, kept);
      notify(
        kept.address === null
          ? say('No receipts are sent any more.')
          : say('A receipt is sent to {address} each day, the first one within a minute.', { address: kept.address }),
      );
    },
    onError: (error) => notify(error.message),
  });
  if (!data) return null;
  return (
    <Sentence
      parts={[
        `${say('sent each day to')} `,
        {
          key: 'address',
          label: say('address that gets a receipt each day'),
          shown: data.address ?? say('nobody'),
          quiet: data.address === null,
          pick: {
            kind: 'text',
            current: data.address ?? '',
            hint: say('An address outside the office; empty for nobody.'),
          },
          onSet: (text) => keep.mutate(text.trim() === '' ? null : text.trim()),
        },
      ]}
    />
  );
}

/** What is kept outside the office, or verified there: a receipt for the newest seal, and the ledger itself. */
function Elsewhere() {
  const { cabinet, tables } = useOffice();
  const notify = useNotify();
  const receipt = useMutation({
    mutationFn: () => send<Receipt>('GET', `/api/cabinets/${cabinet.id}/ledger/receipt`),
    onSuccess: (given) => {
      takeAway(`receipt-of-seal-${given.seal.number}.json`, 'application/json', JSON.stringify(given, null, 2));
      notify(say('A receipt for seal {number}. Keep it outside this office.', { number: given.seal.number }));
    },
    onError: (error) => notify(error.message),
  });
  if (!seesEverything(cabinet.role, tables)) return null;
  return (
    <>
      <Button variant="text" disabled={receipt.isPending} onClick={() => receipt.mutate()}>
        {say('Receipt for the newest seal')}
      </Button>
      <ReceiptMail />
      {exportsAll(cabinet) && (
        <Button variant="text" component="a" href={`/api/cabinets/${cabinet.id}/ledger/export`} download>
          {say('Export to verify elsewhere')}
        </Button>
      )}
    </>
  );
}

function Verdict({ verdict }: { verdict: LedgerVerdict }) {
  const { tables } = useOffice();
  if (verdict.misfits.length === 0)
    return (
      <span className={pageCss.verified}>
        {say('✓ No tampering found: {lines} lines of {records} records, {seals}, {unsealed}.', {
          lines: n(verdict.lines),
          records: n(verdict.records),
          seals: sayCount(verdict.seals, '{count} seal', '{count} seals'),
          unsealed: windowWords(verdict.unsealed, verdict.unsealedSince),
        })}{' '}
        {verdict.newestSeal && (
          <Tooltip title={say('Newest seal {newestSeal}', { newestSeal: verdict.newestSeal })}>
            <span className={textCss.mono}>{verdict.newestSeal.slice(0, 16)}…</span>
          </Tooltip>
        )}
      </span>
    );
  const placeOf = (place: string | null, record: string | null): string => {
    if (place === null) return '';
    const label = tables.get(place.replace(/^data\./, ''))?.label ?? place;
    return record === null ? label : say('{label}, record {record}', { label, record });
  };
  return (
    <ul className={textCss.problem}>
      {verdict.misfits.map(({ what, line, seal, place, record }) => (
        <li key={`${place} ${record} ${line} ${seal} ${what}`}>
          {[
            placeOf(place, record),
            line === null ? '' : say('line {line}', { line }),
            seal === null ? '' : say('seal {seal}', { seal }),
          ]
            .filter((part) => part !== '')
            .join(', ') || say('The seals')}
          : {what}.
        </li>
      ))}
    </ul>
  );
}
