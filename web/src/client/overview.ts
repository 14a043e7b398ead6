import type { OverviewView } from '@fiche/core/api';
import { formatCount } from '@fiche/core/office';
import { useQuery } from '@tanstack/react-query';
import { send } from './http.ts';
import { useOffice } from './office.ts';

/** What goes on in the open cabinet: records counted, forms used, findings of drafts. Undefined until it has arrived. */
export function useOverview(): OverviewView | undefined {
  const { cabinet } = useOffice();
  const query = useQuery({
    queryKey: ['overview', cabinet.id],
    queryFn: () => send<OverviewView>('GET', `/api/cabinets/${cabinet.id}/overview`),
    staleTime: 0,
  });
  return query.data;
}

/** The server counts no further than this: it says “at least”. */
export const COUNTED_MOST = 100_000;

/** A count of the overview in words: `1,200`, or `100,000+` where it went no further. */
export const countWords = (count: number): string =>
  count >= COUNTED_MOST ? `${formatCount(COUNTED_MOST)}+` : formatCount(count);
