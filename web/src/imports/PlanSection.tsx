import type { ImportView } from '@fiche/core/api';
import type { ImportPlan } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import { type Role, rightTo } from '@fiche/core/rights';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router-dom';
import { cancelTask, send, useOffice } from '../client/index.ts';
import { cardCss, Progress, ProgressBar, pageCss, progressCss, sayWith, textCss } from '../parts/index.ts';
import { ColumnSentences } from './ColumnSentences.tsx';
import { NO_PROPOSALS, type Proposals, proposePlan } from './plan.ts';
import { type Chosen, useImportWork } from './useImportWork.ts';
import type { Looked } from './useLook.ts';
import { Verdict } from './Verdict.tsx';

interface PlanSectionProps {
  readonly chosen: Chosen;
  readonly looked: Looked;
  readonly into: string;
  /** What the server has of the files that were sent. */
  readonly sent: WeakMap<Blob, ImportView>;
  /** Goes on with another list of the same file, by its number. */
  onList(list: number): void;
}

/** A table with the fields that a role may write: columns of a file go to these. */
const writable = (table: TableDefinition | undefined, role: Role): TableDefinition | undefined =>
  table && { ...table, fields: table.fields.filter((field) => rightTo(role, 'import', table, field.id) !== 'no') };

/** The columns and what becomes of the rows; then the check, and the writing. */
export function PlanSection({ chosen, looked, into, sent: kept, onList }: PlanSectionProps) {
  const { cabinet, tables } = useOffice();
  const target = useMemo(() => writable(tables.get(into), cabinet.role), [tables, into, cabinet.role]);
  const [label, setLabel] = useState(
    chosen.name
      .replace(/\.[a-z]+$/i, '')
      .replaceAll(/[_-]+/g, ' ')
      .slice(0, 60),
  );
  const { proposals, asking } = useProposals(looked, target);
  const proposed = useMemo(
    () => proposePlan(looked, tables, target, label, proposals),
    [looked, tables, target, label, proposals],
  );
  const [changed, setChanged] = useState<ImportPlan>();
  const plan = changed ? { ...changed, into: proposed.into } : proposed;
  const work = useImportWork(chosen, kept);
  const { received, sent, task, following, done, trouble, busy } = work;
  const change = (next: ImportPlan): void => {
    setChanged(next);
    work.forget();
  };
  const written = done?.kind === 'writeImport' ? done : undefined;
  return (
    <>
      <ColumnSentences looked={looked} plan={plan} target={target} label={label} onLabel={setLabel} onChange={change} />
      <footer className={cardCss.foot}>
        {sent !== undefined && (
          <div className={progressCss.progress} role="status">
            {say('Uploading…')} <ProgressBar share={sent} label={say('Uploading the file')} />
            <Button variant="text" onClick={work.stopSending}>
              {say('Cancel')}
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
            onCheck={() => void work.check(plan)}
            onRun={work.run}
          />
        )}
        {written && (
          <span className={pageCss.verified} role="status">
            {sayWith('✓ {name} is imported. {link}', {
              name: chosen.name,
              link: (
                <Link to={`/${cabinet.id}/tables/${String(written.outcome?.table)}`}>{say('See the records')}</Link>
              ),
            })}
            <OtherLists looked={looked} onList={onList} />
          </span>
        )}
        {!done && (
          <div className={cardCss.end}>
            <Button variant="contained" disabled={busy || asking} onClick={() => void work.check(plan)}>
              {say('Check every row')}
            </Button>
          </div>
        )}
      </footer>
    </>
  );
}

/** The other lists of an XML file: lines that stand in its records are imported next, and find these again by their values. */
function OtherLists({ looked: { reading, sheets }, onList }: Pick<PlanSectionProps, 'looked' | 'onList'>) {
  if (reading.kind !== 'xml' || sheets.length < 2) return null;
  return (
    <span className={textCss.faded}>
      {' '}
      {say('This file has other records:')}{' '}
      {sheets.map(
        (name, at) =>
          at + 1 !== reading.sheet && (
            <Button key={name} variant="text" onClick={() => onList(at + 1)}>
              {say('Import {name} next', { name })}
            </Button>
          ),
      )}
    </span>
  );
}

/**
 * Which columns name existing records, or carry the levels of an option list; only a new table needs to know. While it is
 * asked (`asking`), the plan is not complete yet.
 */
function useProposals(
  looked: Looked,
  target: TableDefinition | undefined,
): { readonly proposals: Proposals; readonly asking: boolean } {
  const { cabinet } = useOffice();
  const [proposals, setProposals] = useState<Proposals>();
  useEffect(() => {
    if (target) return;
    const columns = looked.columns
      .filter((column) => ['text', 'choice'].includes(column.guess.type))
      .map((column) => ({ name: column.name, cells: [...column.words] }));
    send<Proposals>('POST', `/api/cabinets/${cabinet.id}/imports/links`, { columns: columns.slice(0, 200) }).then(
      setProposals,
      () => setProposals(NO_PROPOSALS),
    );
  }, [looked, target, cabinet.id]);
  return { proposals: proposals ?? NO_PROPOSALS, asking: !target && proposals === undefined };
}
