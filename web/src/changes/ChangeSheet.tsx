import type { ChangeOfMany, ChangePlan, ChosenRecords } from '@fiche/core/changes';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useEffect, useRef, useState } from 'react';
import { Sheet, textCss } from '../parts/index.ts';
import { ChangeProgress, recordCount } from './ChangeProgress.tsx';
import changeCss from './change.module.css';
import { PutBack } from './PutBack.tsx';
import { SettingsOfMany } from './SettingsOfMany.tsx';
import { useChangeWork } from './useChangeWork.ts';

interface ChangeSheetProps {
  readonly table: TableDefinition;
  readonly kind: ChangeOfMany['kind'];
  /** What is done, where that is known already: it is checked at once. */
  readonly what?: ChangeOfMany;
  /** What could not be taken along, in words. */
  readonly leftOut?: readonly string[];
  readonly records: ChosenRecords;
  /** How many records are selected. */
  readonly count: number;
  onWritten(): void;
  onClose(): void;
}

const VERBS: Readonly<Record<ChangeOfMany['kind'], { now: string; done: string }>> = {
  set: { now: say('Change'), done: say('changed') },
  paste: { now: say('Change'), done: say('changed') },
  archive: { now: say('Archive'), done: say('archived') },
  restore: { now: say('Restore'), done: say('restored') },
};

/**
 * A change of the selected records beside their list: what becomes of them, what the check found, and what was written, with the
 * way back. Archiving and restoring begin at once, and ask only where something stands against them.
 */
export function ChangeSheet({
  table,
  kind,
  records,
  count,
  leftOut = [],
  onWritten,
  onClose,
  ...given
}: ChangeSheetProps) {
  const [reasons, setReasons] = useState<ChangePlan['reasons']>({});
  const [back, setBack] = useState<number>();
  const [what, setWhat] = useState(given.what ?? (kind === 'archive' || kind === 'restore' ? { kind } : undefined));
  const work = useChangeWork(table.id, {
    writesAtOnce: ({ counts }) =>
      given.what === undefined && kind !== 'set' && counts?.refused === 0 && counts.change > 0,
    onWritten,
  });
  const check = (of: ChangeOfMany, said: ChangePlan['reasons']): void => {
    setWhat(of);
    setReasons(said);
    void work.check({ what: of, records, reasons: said });
  };
  const begun = useRef(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: Archiving and restoring begin once, as the sheet opens.
  useEffect(() => {
    if (what === undefined || begun.current) return;
    begun.current = true;
    check(what, {});
  }, []);
  const verb = VERBS[kind];
  return (
    <div className={changeCss.wide}>
      <Sheet title={`${verb.now} ${recordCount(count)}`} onClose={onClose}>
        {leftOut.map((words) => (
          <p key={words} className={textCss.notice}>
            {words}
          </p>
        ))}
        {kind === 'set' && given.what === undefined && work.stage.kind !== 'written' && (
          <SettingsOfMany
            table={table}
            busy={work.following !== undefined}
            onEdit={work.plan}
            onCheck={(set) => check({ kind: 'set', set: [...set] }, reasons)}
          />
        )}
        <ChangeProgress
          {...{ table, work, reasons }}
          verb={verb.now}
          done={verb.done}
          onReasons={(said) => what && check(what, said)}
          after={({ id }) => back === undefined && <Button onClick={() => setBack(id)}>{say('Put back')}</Button>}
        />
        {back !== undefined && <PutBack table={table} what={back} />}
      </Sheet>
    </div>
  );
}
