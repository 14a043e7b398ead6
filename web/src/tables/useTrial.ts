import { say, sayCount } from '@fiche/core/languages';
import type { FieldDefinition, TableDefinition } from '@fiche/core/tables';
import { useState } from 'react';
import { send } from '../client/index.ts';
import { useNotify } from '../parts/index.ts';
import type { BrokenRecord } from './Trial.tsx';

/** What a change would break among the existing records. */
export interface BrokenRecords {
  readonly heading: string;
  readonly breaks: number;
  readonly examples: readonly BrokenRecord[];
  /** Makes the change all the same: limits then hold for records that are saved from now on. */
  readonly anyway?: () => void;
  /** The settings that were tried, where they were. */
  readonly settings?: FieldDefinition['settings'];
}

/**
 * Counts the records that a change would break, and makes it by `set` when there are none; otherwise they are `broken`.
 * `what` says what is to hold; with `mayAnyway` the change can be made all the same.
 */
export type TryFirst = (
  trial: { readonly kind: string; readonly settings?: FieldDefinition['settings']; readonly [more: string]: unknown },
  set: () => Promise<boolean>,
  what: string,
  mayAnyway: boolean,
) => Promise<void>;

/** Tries changes of a table on its records before they are made. */
export function useTrial(table: TableDefinition) {
  const notify = useNotify();
  const [broken, setBroken] = useState<BrokenRecords>();
  const tryFirst: TryFirst = async (trial, set, what, mayAnyway) => {
    setBroken(undefined);
    try {
      const found = await send<BrokenRecords>('POST', `/api/tables/${table.id}/trial`, trial);
      if (found.breaks === 0) return void (await set());
      const records = sayCount(found.breaks, '1 record breaks', '{count} records break');
      const anyway = (): void => {
        setBroken(undefined);
        void set();
      };
      setBroken({
        ...found,
        settings: trial.settings,
        heading: say('{records} this already: {what}.', { records, what }),
        ...(mayAnyway ? { anyway } : {}),
      });
    } catch (error) {
      notify((error as Error).message);
    }
  };
  return { broken, setBroken, tryFirst };
}
