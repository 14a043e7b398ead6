import type { WatchView } from '@fiche/core/api';
import type { RecordId, TableId } from '@fiche/core/tables';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { send } from '../client/index.ts';

const WATCHES = ['watches'] as const;

/** The records that one watches, and beginning and ending to watch one. */
export function useWatches() {
  const queries = useQueryClient();
  const { data } = useQuery({
    queryKey: WATCHES,
    queryFn: () => send<{ watches: WatchView[] }>('GET', '/api/account/watches'),
    staleTime: 60_000,
  });
  const setWatched = async (table: TableId, record: RecordId, watched: boolean): Promise<void> => {
    const at = `/api/tables/${table}/records/${record}/watch`;
    await (watched ? send('PUT', at, {}) : send('DELETE', at));
    await queries.invalidateQueries({ queryKey: WATCHES });
  };
  const watches = data?.watches ?? [];
  return {
    watches,
    known: data !== undefined,
    isWatched: (table: TableId, record: RecordId): boolean =>
      watches.some((one) => one.table.id === table && one.record === record),
    setWatched,
  };
}
