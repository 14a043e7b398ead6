import type { RecordView } from '@fiche/core/api';
import type { FieldId, TableId } from '@fiche/core/tables';
import { useInfiniteQuery } from '@tanstack/react-query';
import { send } from '../client/index.ts';
import type { RecordFilter } from './recordFilter.ts';

export interface Sort {
  readonly field: FieldId;
  readonly direction: 'up' | 'down';
}

interface Page {
  readonly records: readonly RecordView[];
  readonly after: string | null;
  /** With the first page only. */
  readonly total: number | null;
}

/** The records of a table that fit a filter, read page by page; the newest first unless a column sorts them. */
export function useRecords(
  table: TableId,
  { search, archived }: RecordFilter,
  sort: Sort | undefined,
  linking: string | undefined,
) {
  const query = useInfiniteQuery({
    queryKey: ['records', table, search, sort, archived, linking],
    initialPageParam: '',
    queryFn: ({ pageParam }) => {
      const asked = new URLSearchParams({
        limit: '100',
        search,
        archived,
        ...(sort ? { sort: sort.field, direction: sort.direction } : { direction: 'down' }),
        ...(linking ? { linking } : {}),
        ...(pageParam ? { after: pageParam } : {}),
      });
      return send<Page>('GET', `/api/tables/${table}/records?${asked}`);
    },
    getNextPageParam: (page) => page.after,
    placeholderData: (before) => before,
  });
  const { data: fetched } = query;
  return {
    query,
    records: fetched?.pages.flatMap((page) => page.records) ?? [],
    total: fetched?.pages[0]?.total ?? 0,
  };
}
