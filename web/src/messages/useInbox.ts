import type { Inbox, NoticeView } from '@fiche/core/api';
import { useInfiniteQuery, useQueryClient } from '@tanstack/react-query';
import { send } from '../client/index.ts';

export const INBOX = ['inbox'] as const;

/** One’s inbox, page by page, and how many notices are not seen yet. */
export function useInbox() {
  const queries = useQueryClient();
  const query = useInfiniteQuery({
    queryKey: INBOX,
    initialPageParam: '',
    queryFn: ({ pageParam }) =>
      send<Inbox>('GET', `/api/account/notices${pageParam === '' ? '' : `?before=${pageParam}`}`),
    getNextPageParam: ({ before }) => (before === null ? undefined : String(before)),
    // Its own events and the page coming back into sight say when to look again.
    staleTime: 60_000,
  });
  const see = async (notices: 'all' | readonly number[]): Promise<void> => {
    await send('POST', '/api/account/notices/seen', { notices });
    await queries.invalidateQueries({ queryKey: INBOX });
  };
  const { data: fetched } = query;
  const pages = fetched?.pages ?? [];
  return {
    notices: pages.flatMap((page): readonly NoticeView[] => page.notices),
    unseen: pages[0]?.unseen ?? 0,
    error: query.error,
    reading: query.isPending,
    more: query.hasNextPage ? () => void query.fetchNextPage() : undefined,
    see,
  };
}
