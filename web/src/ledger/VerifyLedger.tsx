import type { LedgerVerdict, TaskView } from '@fiche/core/api';
import type { Receipt } from '@fiche/core/history';
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
  if (lines === 0 || since === null) return 'all of them sealed';
  const minutes = Math.max(1, Math.ceil((Date.now() - Date.parse(since)) / 60_000));
  return `${n(lines)} ${lines === 1 ? 'line' : 'lines'} of the last ${n(minutes)} min not sealed yet`;
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
        {running ? 'Verifying…' : 'Verify the ledger'}
      </Button>
      <Elsewhere />
      {running && task && (
        <>
          <ProgressBar label="Verifying" share={task.total ? task.done / task.total : undefined} />
          <span>
            {n(task.done)} of {n(task.total ?? task.done)} lines
          </span>
          <Button variant="text" onClick={() => void cancelTask(cabinet.id, task.id)}>
            Cancel
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
          ? 'No receipts are sent any more.'
          : `A receipt is sent to ${kept.address} each day, the first one within a minute.`,
      );
    },
    onError: (error) => notify(error.message),
  });
  if (!data) return null;
  return (
    <Sentence
      parts={[
        'sent each day to ',
        {
          key: 'address',
          label: 'address that gets a receipt each day',
          shown: data.address ?? 'nobody',
          quiet: data.address === null,
          pick: { kind: 'text', current: data.address ?? '', hint: 'An address outside the office; empty for nobody.' },
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
      notify(`A receipt for seal ${given.seal.number}. Keep it outside this office.`);
    },
    onError: (error) => notify(error.message),
  });
  if (!seesEverything(cabinet.role, tables)) return null;
  return (
    <>
      <Button variant="text" disabled={receipt.isPending} onClick={() => receipt.mutate()}>
        Receipt for the newest seal
      </Button>
      <ReceiptMail />
      {exportsAll(cabinet) && (
        <Button variant="text" component="a" href={`/api/cabinets/${cabinet.id}/ledger/export`} download>
          Export to verify elsewhere
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
        ✓ No tampering found: {n(verdict.lines)} lines of {n(verdict.records)} records, {n(verdict.seals)}{' '}
        {verdict.seals === 1 ? 'seal' : 'seals'}, {windowWords(verdict.unsealed, verdict.unsealedSince)}.{' '}
        {verdict.newestSeal && (
          <Tooltip title={`Newest seal ${verdict.newestSeal}`}>
            <span className={textCss.mono}>{verdict.newestSeal.slice(0, 16)}…</span>
          </Tooltip>
        )}
      </span>
    );
  const placeOf = (place: string | null, record: string | null): string => {
    if (place === null) return '';
    const label = tables.get(place.replace(/^data\./, ''))?.label ?? place;
    return record === null ? label : `${label}, record ${record}`;
  };
  return (
    <ul className={textCss.problem}>
      {verdict.misfits.map(({ what, line, seal, place, record }) => (
        <li key={`${place} ${record} ${line} ${seal} ${what}`}>
          {[placeOf(place, record), line === null ? '' : `line ${line}`, seal === null ? '' : `seal ${seal}`]
            .filter((part) => part !== '')
            .join(', ') || 'The seals'}
          : {what}.
        </li>
      ))}
    </ul>
  );
}
