import type { ListedPage } from '@fiche/core/api';
import type { TableId } from '@fiche/core/tables';
import type { Listing } from '@fiche/core/views';
import { useInfiniteQuery } from '@tanstack/react-query';
import { send } from '../client/index.ts';
import type { RecordFilter } from './recordFilter.ts';

/** The records of a table that a listing and a filter leave, read page by page. */
export function useRecords(
  table: TableId,
  listing: Listing,
  { search, archived }: RecordFilter,
  linking: string | undefined,
) {
  const query = useInfiniteQuery({
    queryKey: ['records', table, listing, search, archived, linking],
    initialPageParam: '',
    queryFn: ({ pageParam }) =>
      send<ListedPage>('POST', `/api/tables/${table}/rows`, {
        listing,
        search,
        archived,
        limit: 100,
        ...(linking ? { linking } : {}),
        ...(pageParam ? { after: pageParam } : {}),
      }),
    getNextPageParam: (page) => page.after,
    placeholderData: (before) => before,
  });
  const { data: fetched } = query;
  return {
    query,
    records: fetched?.pages.flatMap((page) => page.records) ?? [],
    total: fetched?.pages[0]?.total ?? 0,
    summaries: fetched?.pages[0]?.summaries ?? {},
  };
}
