import type { ChangeView } from '@fiche/core/api';
import type { ChangePlan } from '@fiche/core/changes';
import { say, sayCount } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { type ReactNode, useEffect, useRef } from 'react';
import { cancelTask, useOffice } from '../client/index.ts';
import { Progress, sayWith, textCss } from '../parts/index.ts';
import { ChangePreview } from './ChangePreview.tsx';
import changeCss from './change.module.css';
import type { useChangeWork } from './useChangeWork.ts';

/** `1,200 records`. */
export const recordCount = (count: number): string => sayCount(count, '{count} record', '{count} records');

interface ChangeProgressProps {
  readonly table: TableDefinition;
  readonly work: ReturnType<typeof useChangeWork>;
  /** What the button says will happen: `Archive`. */
  readonly verb: string;
  /** What has happened: `archived`. */
  readonly done: string;
  readonly reasons: ChangePlan['reasons'];
  onReasons(reasons: ChangePlan['reasons']): void;
  /** What can be done once it is written. */
  after?(change: ChangeView): ReactNode;
}

/** How far a change of many is: its work in the background, what the check found with what can be done, what was written. */
export function ChangeProgress({ table, work, verb, done, reasons, onReasons, after }: ChangeProgressProps) {
  const { cabinet } = useOffice();
  const { stage, following, trouble, write } = work;
  return (
    <>
      {following && <Progress task={following} onCancel={() => void cancelTask(cabinet.id, following.id)} />}
      {trouble !== '' && (
        <p className={textCss.problem} role="alert">
          {trouble}
        </p>
      )}
      {stage.kind === 'checked' && !following && (
        <>
          <ChangePreview {...{ table, reasons, onReasons }} change={stage.change} />
          <RunButton change={stage.change} verb={verb} onRun={(which) => void write(stage.change.id, which)} />
        </>
      )}
      {stage.kind === 'written' && (
        <Written change={stage.change} done={done}>
          {after?.(stage.change)}
        </Written>
      )}
    </>
  );
}

/** Writes all records, or only those that nothing stands against. */
function RunButton({
  change: { counts },
  verb,
  onRun,
}: {
  readonly change: ChangeView;
  readonly verb: string;
  onRun(which: 'all' | 'good'): void;
}) {
  if (!counts || counts.change === 0)
    return (
      <p className={textCss.faded}>{say('There is nothing to write. Choose other records, or another change.')}</p>
    );
  const good = counts.refused > 0;
  return (
    <p className={changeCss.acts}>
      <Button variant="contained" onClick={() => onRun(good ? 'good' : 'all')}>
        {verb} {good && `${say('the')} `}
        {recordCount(counts.change)}
        {good && ` ${say('that can be')}`}
      </Button>
    </p>
  );
}

function Written({
  change: { counts },
  done,
  children,
}: {
  readonly change: ChangeView;
  readonly done: string;
  readonly children: ReactNode;
}) {
  const said = useRef<HTMLDivElement>(null);
  useEffect(() => said.current?.focus(), []);
  if (!counts) return null;
  const left = sayCount(counts.refused, 'One record is left as it is.', '{refused} are left as they are.', {
    refused: recordCount(counts.refused),
  });
  return (
    <div className={changeCss.written} ref={said} tabIndex={-1}>
      <p role="status">
        {sayWith('{name} {refused} The ledger has it as one entry.', {
          name: (
            <strong>
              {recordCount(counts.change)} {done}.
            </strong>
          ),
          refused: counts.refused > 0 && left,
        })}
      </p>
      {children}
    </div>
  );
}
