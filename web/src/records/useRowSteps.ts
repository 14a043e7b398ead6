import type { EntryAnswer } from '@fiche/core/api';
import type { Values } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { RecordId, TableId } from '@fiche/core/tables';
import { useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import { ServerProblem, send } from '../client/index.ts';
import { useNotify } from '../parts/index.ts';

/** A row that was saved in the list: what its fields were, and what they became. */
export interface RowStep {
  readonly record: RecordId;
  readonly before: Values;
  readonly after: Values;
}

/** So many saves can be undone. */
const MOST_STEPS = 100;

/** Saves of rows of a list, in order: the last ones are undone and done again, each as a change of its own. */
export function useRowSteps(table: TableId) {
  const queries = useQueryClient();
  const notify = useNotify();
  const done = useRef<RowStep[]>([]);
  const undone = useRef<RowStep[]>([]);
  /** The version of each record that was saved here, as its last save left it. */
  const versions = useRef(new Map<RecordId, number>());
  const refresh = (): void => {
    for (const key of ['records', 'history', 'linking', 'record'])
      void queries.invalidateQueries({ queryKey: [key, table] });
  };
  /** Writes values into a record. Throws what the server says against it. */
  const write = async (record: RecordId, version: number, values: Values): Promise<void> => {
    const answer = await send<EntryAnswer>(
      'POST',
      `/api/tables/${table}/entries`,
      { record, version, values },
      { 'idempotency-key': crypto.randomUUID() },
    );
    versions.current.set(record, answer.record?.version ?? version);
    refresh();
  };
  const move = async (from: RowStep[], to: RowStep[], back: boolean): Promise<void> => {
    const step = from.pop();
    if (!step) {
      notify(back ? say('There is nothing to undo here.') : say('There is nothing to do again.'));
      return;
    }
    try {
      await write(step.record, versions.current.get(step.record) ?? 1, back ? step.before : step.after);
      to.push(step);
      notify(back ? say('Undone. Ctrl+Shift+Z does it again.') : say('Done again.'));
    } catch (error) {
      from.push(step);
      notify(refusalWords(error));
    }
  };
  const undo = (): void => void move(done.current, undone.current, true);
  return {
    /** Remembers a save. */
    saved(step: RowStep, version: number): void {
      versions.current.set(step.record, version);
      done.current = [...done.current, step].slice(-MOST_STEPS);
      undone.current = [];
      notify(say('Saved.'), undo);
      refresh();
    },
    undo,
    redo: (): void => void move(undone.current, done.current, false),
    /** Writes one field of a record at once. */
    async set(record: RecordId, version: number, before: Values, after: Values): Promise<void> {
      try {
        await write(record, version, after);
        const now = versions.current.get(record) ?? version;
        done.current = [...done.current, { record, before, after }].slice(-MOST_STEPS);
        undone.current = [];
        versions.current.set(record, now);
        notify(say('Saved.'), undo);
      } catch (error) {
        notify(refusalWords(error));
      }
    },
  };
}

/** What stands against a save, in words. */
const refusalWords = (error: unknown): string =>
  error instanceof ServerProblem && error.document.errors.length > 0
    ? error.document.errors.map((one) => one.message).join(' ')
    : (error as Error).message;
