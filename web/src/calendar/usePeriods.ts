import type { PeriodsAnswer } from '@fiche/core/api';
import type { TableId } from '@fiche/core/tables';
import type { Listing } from '@fiche/core/views';
import { useQuery } from '@tanstack/react-query';
import { send } from '../client/index.ts';

/** Which records of a listing are meant, beside its own filter. */
export interface PeriodsFilter {
  readonly search?: string;
  readonly archived?: 'yes' | 'no';
  readonly asOf?: string;
  readonly linking?: string;
}

/** What a listing has from one day to another. It is read again when others have saved records of the table. */
export const usePeriods = (
  table: TableId,
  listing: Listing,
  days: { readonly from: string; readonly to: string },
  filter: PeriodsFilter,
) =>
  useQuery({
    queryKey: ['records', table, 'periods', listing.filter, listing.shown, days, filter],
    queryFn: ({ signal }) =>
      send<PeriodsAnswer>('POST', `/api/tables/${table}/periods`, { listing, ...days, ...filter }, {}, signal),
    placeholderData: (before) => before,
  });
