import type { ImportView, TaskView } from '@fiche/core/api';
import type { ImportPlan } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import { useRef, useState } from 'react';
import { ServerProblem, send, sendFile, useOffice, useRefreshCabinet, useTask } from '../client/index.ts';

export interface Chosen {
  readonly file: Blob;
  readonly name: string;
  /** How many files were chosen before it: another file begins anew. */
  readonly number: number;
}

/**
 * The work on a chosen file: it is sent once (`sent` is the share so far), checked, and written. `done` is what was
 * finished last, `trouble` why it was not; `kept` is what the server has of the files that were sent.
 */
export function useImportWork(chosen: Chosen, kept: WeakMap<Blob, ImportView>) {
  const { cabinet } = useOffice();
  const refresh = useRefreshCabinet();
  const [received, setReceived] = useState(() => kept.get(chosen.file));
  const [sent, setSent] = useState<number>();
  const [task, setTask] = useState<TaskView>();
  const [done, setDone] = useState<TaskView>();
  const [trouble, setTrouble] = useState('');
  const abort = useRef<AbortController>(undefined);
  const base = `/api/cabinets/${cabinet.id}/imports`;
  const following = useTask(cabinet.id, task, (over) => {
    setTask(undefined);
    if (over.state !== 'done') {
      setTrouble(over.message ?? say('It was not done.'));
      return;
    }
    setDone(over);
    void refresh();
  });
  const forget = (): void => {
    setDone(undefined);
    setTrouble('');
  };
  const sendOnce = async (): Promise<ImportView> => {
    if (received) return received;
    abort.current = new AbortController();
    setSent(0);
    const address = `${base}?file=${encodeURIComponent(chosen.name)}`;
    const view = await sendFile<ImportView>(address, chosen.file, setSent, abort.current.signal);
    setReceived(view);
    kept.set(chosen.file, view);
    return view;
  };
  const check = async (plan: ImportPlan): Promise<void> => {
    forget();
    try {
      const { id } = await sendOnce();
      setSent(undefined);
      setTask(await send<TaskView>('POST', `${base}/${id}/check`, { plan }));
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
    setTrouble('');
    try {
      setTask(await send<TaskView>('POST', `${base}/${received?.id}/run`, { rows }));
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  return {
    received,
    sent,
    task,
    following,
    done,
    trouble,
    busy: task !== undefined || sent !== undefined,
    forget,
    check,
    run,
    stopSending: (): void => abort.current?.abort(),
  };
}
