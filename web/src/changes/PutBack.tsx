import type { ChangePlan } from '@fiche/core/changes';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import { useEffect, useRef, useState } from 'react';
import { Sheet } from '../parts/index.ts';
import { ChangeProgress } from './ChangeProgress.tsx';
import changeCss from './change.module.css';
import { type SavedPart, useChangeWork } from './useChangeWork.ts';

interface PutBackProps {
  readonly table: TableDefinition;
  /** What is put back: a change of many by its number, or a part of another large save. */
  readonly what: number | SavedPart;
}

/** Puts the records of a change back as they were: at once, or after a look where something stands against some of them. */
export function PutBack({ table, what }: PutBackProps) {
  const [reasons, setReasons] = useState<ChangePlan['reasons']>({});
  const work = useChangeWork(table.id, {
    writesAtOnce: ({ counts }) => counts?.refused === 0 && counts.change > 0,
    onWritten: () => undefined,
  });
  const begin = (said: ChangePlan['reasons']): void => {
    setReasons(said);
    void work.putBack(what, said);
  };
  const begun = useRef(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: It begins once, as it is shown.
  useEffect(() => {
    if (begun.current) return;
    begun.current = true;
    begin({});
  }, []);
  return (
    <ChangeProgress
      {...{ table, work, reasons }}
      verb={say('Put back')}
      done={say('put back as before')}
      onReasons={begin}
    />
  );
}

/** The same beside the ledger. */
export function PutBackSheet({ onClose, ...props }: PutBackProps & { onClose(): void }) {
  return (
    <div className={changeCss.wide}>
      <Sheet title={say('Put back in {label}', { label: props.table.label })} onClose={onClose}>
        <PutBack {...props} />
      </Sheet>
    </div>
  );
}
