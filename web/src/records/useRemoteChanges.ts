import type { RecordView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { useQueryClient } from '@tanstack/react-query';
import { type RefObject, useEffect } from 'react';
import { send, useOffice } from '../client/index.ts';
import { type Entry, lastBy } from '../entry/index.ts';
import { useNotify } from '../parts/index.ts';
import type { CardPageProps, PlacedRecord } from './card.ts';
import type { KeptWork } from './unsavedWork.ts';
import { stateOf, useLive } from './useLive.ts';

interface RemoteChanges extends Pick<CardPageProps, 'formId'> {
  readonly entry: Entry;
  /** The version of the form that the card was begun on. */
  readonly version: number | null;
  readonly opened: PlacedRecord | undefined;
  readonly dirty: boolean;
  /** Work that was left unsaved here earlier. */
  readonly left: KeptWork | undefined;
  /** True while the card is being left. */
  readonly leaving: RefObject<boolean>;
}

/**
 * Tells whoever has a card open what others save meanwhile, and merges it into unsaved work. Returns what shows the record
 * as it is now, after a change that was made beside the card.
 */
export function useRemoteChanges({ entry, version, formId, opened, dirty, left, leaving }: RemoteChanges) {
  const { session } = useOffice();
  const queries = useQueryClient();
  const notify = useNotify();
  const { state } = entry;
  const table = state.form.table.id;
  const current = entry.remote ?? opened;
  const fetchNow = (): Promise<RecordView> => {
    const reads = formId === undefined ? '' : `?form=${formId}${version === null ? '' : `&version=${version}`}`;
    return send<RecordView>('GET', `/api/tables/${table}/records/${opened?.id}${reads}`);
  };
  // Work that was left here may be older than what somebody else has saved since.
  useEffect(() => {
    const begun = left?.unsaved.record;
    if (!begun || !opened || begun.version === opened.version) return;
    notify(
      say('{opened} has changed this record since you left it. Look at it before you save.', {
        opened: lastBy(opened),
      }),
    );
  }, [left, opened, notify]);
  useLive(table, opened, () => {
    if (state.phase.kind === 'saving' || leaving.current) return;
    void fetchNow().then(
      (there) => {
        if (leaving.current || stateOf(there) === stateOf(current ?? there)) return;
        const by = lastBy(there);
        if (by !== session.login)
          notify(
            there.archived
              ? say('{by} has just archived this record.', { by })
              : say('Changed just now by {by}.', { by }),
          );
        if (dirty) entry.mergeRemote(there);
        else void queries.invalidateQueries({ queryKey: ['record', table, String(opened?.id)] });
      },
      // Without a connection no change is heard of; the save says so.
      () => undefined,
    );
  });
  return async (): Promise<void> => {
    // What is being entered stays on the card.
    if (dirty) entry.mergeRemote(await fetchNow());
    else await queries.invalidateQueries({ queryKey: ['record', table] });
    for (const key of ['records', 'history']) void queries.invalidateQueries({ queryKey: [key, table] });
  };
}
