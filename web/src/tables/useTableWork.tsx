import type { TaskView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import { useState } from 'react';
import { cancelTask, send, useOffice, useRefreshCabinet, useTask } from '../client/index.ts';
import { Progress, useNotify } from '../parts/index.ts';

/** The answer to a change of a table: as it is now, and what goes on in the background. */
interface Changed {
  readonly table: TableDefinition;
  readonly task: TaskView | null;
}

/** Sends changes of a table, follows the work that they begin, and says what was refused. */
export function useTableWork() {
  const { cabinet } = useOffice();
  const refresh = useRefreshCabinet();
  const notify = useNotify();
  const [begun, setBegun] = useState<TaskView>();
  const task = useTask(cabinet.id, begun, (over) => {
    setBegun(undefined);
    notify(
      over.state === 'done' ? say('Done: {label}.', { label: over.label }) : (over.message ?? say('It was not done.')),
    );
    void refresh();
  });
  const change: ChangeTable = async (method, url, body, onTrouble = notify) => {
    try {
      const answer = await send<Changed | TableDefinition>(method, url, body);
      if ('task' in answer && answer.task) setBegun(answer.task);
      await refresh();
      return true;
    } catch (error) {
      onTrouble((error as Error).message);
      await refresh();
      return false;
    }
  };
  const progress =
    task && begun ? <Progress task={task} onCancel={() => void cancelTask(cabinet.id, task.id)} /> : null;
  return { change, progress };
}

/** Sends one change; false when it was refused, which is said where `onTrouble` shows it, or else shortly on the page. */
export type ChangeTable = (
  method: string,
  url: string,
  body: object,
  onTrouble?: (words: string) => void,
) => Promise<boolean>;
