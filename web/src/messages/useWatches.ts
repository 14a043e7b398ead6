import type { WatchView } from '@fiche/core/api';
import type { IdOfForm, RecordId, TableId } from '@fiche/core/tables';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { send } from '../client/index.ts';

const WATCHES = ['watches'] as const;

/** What is watched: a record or a view of a table, or the answers to a form. */
export type Watched =
  | ({ readonly table: TableId } & ({ readonly record: RecordId } | { readonly view: number }))
  | { readonly form: IdOfForm };

const addressOf = (one: Watched): string =>
  'form' in one
    ? `/api/forms/${one.form}/watch`
    : `/api/tables/${one.table}/${'record' in one ? `records/${one.record}` : `views/${one.view}`}/watch`;

/** The records and views that one watches, and beginning and ending to watch one. */
export function useWatches() {
  const queries = useQueryClient();
  const { data } = useQuery({
    queryKey: WATCHES,
    queryFn: () => send<{ watches: WatchView[] }>('GET', '/api/account/watches'),
    staleTime: 60_000,
  });
  const setWatched = async (one: Watched, watched: boolean): Promise<void> => {
    const at = addressOf(one);
    await (watched ? send('PUT', at, {}) : send('DELETE', at));
    await queries.invalidateQueries({ queryKey: WATCHES });
  };
  const watches = data?.watches ?? [];
  return {
    watches,
    known: data !== undefined,
    isWatched: (wanted: Watched): boolean =>
      watches.some((one) =>
        'form' in wanted
          ? one.form === wanted.form
          : one.table.id === wanted.table &&
            ('record' in wanted ? one.record === wanted.record : one.view === wanted.view),
      ),
    setWatched,
  };
}
