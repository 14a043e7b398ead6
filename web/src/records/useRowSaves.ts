import type { EntryAnswer, RecordView } from '@fiche/core/api';
import { isBusy, isDirty, isPresent, problemsOf, type SubformLine, submission } from '@fiche/core/entry';
import { ROWS } from '@fiche/core/forms';
import { useEffect, useRef, useState } from 'react';
import { ServerProblem, send } from '../client/index.ts';
import type { Entry } from '../entry/index.ts';

/** A row that is to be saved is one that has something in it that is not saved. */
export const isUnsaved = (line: SubformLine): boolean => !line.archived && isPresent(line) && isDirty(line.state);

/**
 * Saves rows one by one, each as a card is saved: once it is settled and sound, under a key of its own. What stands
 * against one stays at its cells. Returns how a row is given to be saved, and what went wrong beyond the cells.
 */
export function useRowSaves({ state, runs, dispatch }: Entry): { save(key: string): void; trouble: string } {
  const [wanted, setWanted] = useState<ReadonlySet<string>>(new Set());
  const [trouble, setTrouble] = useState('');
  const sending = useRef(new Set<string>());
  const keys = useRef(new Map<string, { body: string; key: string }>());
  const lines = state.lines[ROWS] ?? [];
  useEffect(() => {
    for (const key of wanted) {
      const line = lines.find((one) => one.key === key);
      if (sending.current.has(key) || (line && isBusy(line.state))) continue;
      setWanted((all) => new Set([...all].filter((one) => one !== key)));
      if (line && isUnsaved(line) && problemsOf(line.state).length === 0) void post(line);
    }
  });
  const tell = (key: string, event: Parameters<typeof dispatch>[0]): void =>
    dispatch({ type: 'line', line: { subform: ROWS, key }, event });
  const post = async ({ key, state: row }: SubformLine): Promise<void> => {
    sending.current.add(key);
    const { record } = row.opening;
    const { values, reasons, picked } = submission(row);
    const body = {
      values,
      reasons,
      picked,
      ...(record ? { record: record.id, version: record.version } : {}),
      ...(runs.formVersion ? { formVersion: runs.formVersion } : {}),
    };
    const text = JSON.stringify(body);
    const known = keys.current.get(key);
    const once = known?.body === text ? known : { body: text, key: crypto.randomUUID() };
    keys.current.set(key, once);
    try {
      const answer = await send<EntryAnswer>('POST', `${runs.base}/entries`, body, { 'idempotency-key': once.key });
      setTrouble('');
      if (answer.record) tell(key, { type: 'remoteSaved', record: answer.record, by: null });
    } catch (error) {
      const document = error instanceof ServerProblem ? error.document : undefined;
      const current = document?.current as RecordView | undefined;
      if (current) tell(key, { type: 'remoteSaved', record: current, by: current.stamp.changedBy });
      else if (document && document.errors.length > 0) tell(key, { type: 'refused', problems: document.errors });
      else setTrouble((error as Error).message);
    } finally {
      sending.current.delete(key);
    }
  };
  return {
    trouble,
    save: (key) => {
      tell(key, { type: 'allTouched' });
      setWanted((all) => new Set([...all, key]));
    },
  };
}
