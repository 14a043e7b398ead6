import type { RecordView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { IdOfForm, TableDefinition } from '@fiche/core/tables';
import { useState } from 'react';
import { send } from '../client/index.ts';
import { useNotify } from '../parts/index.ts';
import type { PlacedRecord } from '../records/index.ts';

/** A record by its id, the first of the table, or none: a blank card. */
export type RecordToTry = number | null | 'first';

/** The record that a form is tried on; undefined for a blank card. */
export function useTriedRecord(table: TableDefinition, form: IdOfForm, version: number | undefined) {
  const notify = useNotify();
  const [record, setRecord] = useState<PlacedRecord>();
  const open = async (which: RecordToTry): Promise<void> => {
    if (which === null) return setRecord(undefined);
    const base = `/api/tables/${table.id}/records`;
    try {
      const id =
        which === 'first' ? (await send<{ records: RecordView[] }>('GET', `${base}?limit=1`)).records[0]?.id : which;
      if (id === undefined) return notify(say('{label} has no records yet.', { label: table.label }));
      const reads = `?form=${form}${version === undefined ? '' : `&version=${version}`}`;
      setRecord(await send<PlacedRecord>('GET', `${base}/${id}${reads}`));
    } catch (error) {
      notify((error as Error).message);
    }
  };
  return { record, open };
}
