import type { ImportView, TaskView } from '@fiche/core/api';
import type { ImportPlan } from '@fiche/core/imports';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router-dom';
import { cancelTask, ServerProblem, send, sendFile, useOffice, useRefreshCabinet, useTask } from '../client/index.ts';
import { cardCss, Progress, ProgressBar, pageCss, progressCss, textCss, useNotify } from '../parts/index.ts';
import { ColumnSentences } from './ColumnSentences.tsx';
import { NO_PROPOSALS, type Proposals, proposePlan } from './plan.ts';
import type { Looked } from './useLook.ts';
import { Verdict } from './Verdict.tsx';

export interface Chosen {
  readonly file: Blob;
  readonly name: string;
  /** How many files were chosen before it: another file begins anew. */
  readonly number: number;
}

interface PlanSectionProps {
  readonly chosen: Chosen;
  readonly looked: Looked;
  readonly into: string;
  /** What the server has of the files that were sent. */
  readonly sent: WeakMap<Blob, ImportView>;
}

/** The columns and what becomes of the rows; then the check, and the writing. */
export function PlanSection({ chosen, looked, into, sent: kept }: PlanSectionProps) {
  const { cabinet, tables } = useOffice();
  const refresh = useRefreshCabinet();
  const notify = useNotify();
  const target = tables.get(into);
  const [label, setLabel] = useState(
    chosen.name
      .replace(/\.[a-z]+$/i, '')
      .replaceAll(/[_-]+/g, ' ')
      .slice(0, 60),
  );
  const [proposals, setProposals] = useState(NO_PROPOSALS);
  const proposed = useMemo(
    () => proposePlan(looked, tables, target, label, proposals),
    [looked, tables, target, label, proposals],
  );
  const [changed, setChanged] = useState<ImportPlan>();
  const plan = changed ? { ...changed, into: proposed.into } : proposed;
  const [received, setReceived] = useState(() => kept.get(chosen.file));
  const [sent, setSent] = useState<number>();
  const [task, setTask] = useState<TaskView>();
  const [done, setDone] = useState<TaskView>();
  const [trouble, setTrouble] = useState('');
  const abort = useRef<AbortController>(undefined);

  // Which columns name existing records, or carry the levels of an option list.
  useEffect(() => {
    if (target) return;
    const columns = looked.columns
      .filter((column) => ['text', 'choice'].includes(column.guess.type))
      .map((column) => ({ name: column.name, cells: [...column.words] }));
    send<Proposals>('POST', `/api/cabinets/${cabinet.id}/imports/links`, { columns: columns.slice(0, 200) })
      .then(setProposals)
      .catch(() => undefined);
  }, [looked, target, cabinet.id]);

  const base = `/api/cabinets/${cabinet.id}/imports`;
  const following = useTask(cabinet.id, task, (over) => {
    setTask(undefined);
    if (over.state !== 'done') {
      setTrouble(over.message ?? 'It was not done.');
      return;
    }
    setDone(over);
    void refresh();
  });
  const change = (next: ImportPlan): void => {
    setChanged(next);
    setDone(undefined);
    setTrouble('');
  };
  const check = async (): Promise<void> => {
    setTrouble('');
    setDone(undefined);
    try {
      let view = received;
      if (!view) {
        abort.current = new AbortController();
        setSent(0);
        view = await sendFile<ImportView>(
          `${base}?file=${encodeURIComponent(chosen.name)}`,
          chosen.file,
          setSent,
          abort.current.signal,
        );
        setReceived(view);
        kept.set(chosen.file, view);
      }
      setSent(undefined);
      setTask(await send<TaskView>('POST', `${base}/${view.id}/check`, { plan }));
    } catch (error) {
      setSent(undefined);
      setTrouble(
        error instanceof ServerProblem && error.document.errors.length > 0
          ? error.document.errors.map((one) => one.message).join(' ')
          : (error as Error).message,
      );
    }
  };
  const run = async (rows: 'all' | 'good'): Promise<void> => {
    try {
      setTask(await send<TaskView>('POST', `${base}/${received?.id}/run`, { rows }));
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const written = done?.kind === 'writeImport' ? done : undefined;
  const busy = task !== undefined || sent !== undefined;
  return (
    <>
      <ColumnSentences looked={looked} plan={plan} target={target} label={label} onLabel={setLabel} onChange={change} />
      <footer className={cardCss.foot}>
        {sent !== undefined && (
          <div className={progressCss.progress} role="status">
            Uploading… <ProgressBar share={sent} label="Uploading the file" />
            <Button variant="text" onClick={() => abort.current?.abort()}>
              Cancel
            </Button>
          </div>
        )}
        {following && task && <Progress task={following} onCancel={() => void cancelTask(cabinet.id, task.id)} />}
        {trouble && (
          <span className={textCss.problem} role="alert">
            {trouble}
          </span>
        )}
        {done?.kind === 'checkImport' && received && !busy && (
          <Verdict
            cabinet={cabinet.id}
            id={received.id}
            check={done.id}
            counts={done.outcome as never}
            onCheck={() => void check()}
            onRun={run}
          />
        )}
        {written && (
          <span className={pageCss.verified} role="status">
            ✓ {chosen.name} is imported.{' '}
            <Link to={`/${cabinet.id}/tables/${String(written.outcome?.table)}`}>See the records</Link>
          </span>
        )}
        {!done && (
          <div className={clsx(cardCss.end, pageCss.end)}>
            <Button variant="contained" disabled={busy} onClick={() => void check()}>
              Check every row
            </Button>
          </div>
        )}
      </footer>
    </>
  );
}
