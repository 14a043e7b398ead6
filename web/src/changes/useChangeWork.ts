import type { ChangeView, TaskView } from '@fiche/core/api';
import type { ChangePlan } from '@fiche/core/changes';
import { say } from '@fiche/core/languages';
import type { TableId } from '@fiche/core/tables';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ServerProblem, send, useOffice, useRefreshCabinet, useTask } from '../client/index.ts';

interface Begun {
  readonly id: number;
  readonly task: TaskView;
}

/** What a save of too many records to be put back at once added to a table, or changed there. */
export interface SavedPart {
  readonly transaction: number;
  readonly at: string;
  readonly part: 'added' | 'changed';
}

/** How far a change of many is: being planned, checked and shown, or written. */
export type ChangeStage =
  | { readonly kind: 'planning' }
  | { readonly kind: 'checked'; readonly change: ChangeView }
  | { readonly kind: 'written'; readonly change: ChangeView };

interface ChangeWorkOptions {
  /** Once it is checked: whether it is written at once, as nothing has to be decided. */
  writesAtOnce(change: ChangeView): boolean;
  onWritten(change: ChangeView): void;
}

/** The work on a change of many: planned and checked, written, put back; each goes on in the background, and can be cancelled. */
export function useChangeWork(table: TableId, { writesAtOnce, onWritten }: ChangeWorkOptions) {
  const { cabinet } = useOffice();
  const refresh = useRefreshCabinet();
  const client = useQueryClient();
  const [stage, setStage] = useState<ChangeStage>({ kind: 'planning' });
  const [working, setWorking] = useState<Begun & { readonly writes: boolean }>();
  const [trouble, setTrouble] = useState('');
  const base = `/api/tables/${table}/changes`;
  const report = (error: unknown): void =>
    setTrouble(
      error instanceof ServerProblem && error.document.errors.length > 0
        ? error.document.errors.map((one) => one.message).join(' ')
        : (error as Error).message,
    );
  const write = async (id: number, records: 'all' | 'good'): Promise<void> => {
    setTrouble('');
    try {
      setWorking({ id, task: await send<TaskView>('POST', `${base}/${id}/run`, { records }), writes: true });
    } catch (error) {
      report(error);
    }
  };
  const over = async (task: TaskView): Promise<void> => {
    if (!working) return;
    setWorking(undefined);
    if (task.state !== 'done') {
      setTrouble(task.message ?? say('It was not done.'));
      return;
    }
    try {
      const change = await send<ChangeView>('GET', `${base}/${working.id}`);
      setStage({ kind: working.writes ? 'written' : 'checked', change });
      if (working.writes) {
        onWritten(change);
        void refresh();
        void client.invalidateQueries({ queryKey: ['records', table] });
      } else if (writesAtOnce(change)) await write(change.id, 'all');
    } catch (error) {
      report(error);
    }
  };
  const following = useTask(cabinet.id, working?.task, (task) => void over(task));
  const begin = async (url: string, body: object): Promise<void> => {
    setTrouble('');
    setStage({ kind: 'planning' });
    try {
      setWorking({ ...(await send<Begun>('POST', url, body)), writes: false });
    } catch (error) {
      report(error);
    }
  };
  return {
    stage,
    following: working && following,
    trouble,
    check: (plan: ChangePlan): Promise<void> => begin(base, plan),
    putBack: (what: number | SavedPart, reasons: ChangePlan['reasons'] = {}): Promise<void> => {
      if (typeof what === 'number') return begin(`${base}/${what}/put-back`, { reasons });
      const { transaction, ...part } = what;
      return begin(`/api/tables/${table}/saves/${transaction}/put-back`, { reasons, ...part });
    },
    write,
    /** Back to the plan: what was found counts no more. */
    plan: (): void => {
      setTrouble('');
      setStage({ kind: 'planning' });
    },
  };
}
