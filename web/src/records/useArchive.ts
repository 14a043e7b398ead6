import type { RecordView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { TableId } from '@fiche/core/tables';
import { send } from '../client/index.ts';
import { useNotify } from '../parts/index.ts';

/** Archives or restores a record, with an undo; `showNow` shows the record as it is afterwards. */
export function useArchive(table: TableId, current: RecordView | undefined, showNow: () => Promise<void>) {
  const notify = useNotify();
  return async (back: boolean): Promise<void> => {
    if (!current) return;
    const change = (verb: string, of: number) =>
      send<RecordView>('POST', `/api/tables/${table}/records/${current.id}/${verb}`, { version: of });
    try {
      const after = await change(back ? 'restore' : 'archive', current.version);
      await showNow();
      notify(
        back
          ? say('{title} is back in use.', { title: current.title })
          : say('{title} is archived.', { title: current.title }),
        back ? undefined : () => void change('restore', after.version).then(showNow),
      );
    } catch (error) {
      notify((error as Error).message);
    }
  };
}
