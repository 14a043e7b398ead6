import type { Figures } from '@fiche/core/charts';
import type { TableId } from '@fiche/core/tables';
import type { Listing } from '@fiche/core/views';
import { useQuery } from '@tanstack/react-query';
import { send } from '../client/index.ts';

/** Which records of a listing are meant, beside its own filter. */
export interface FiguresFilter {
  readonly search?: string;
  readonly archived?: 'yes' | 'no';
  readonly asOf?: string;
  readonly linking?: string;
}

/** The figures of a listing that is shown as a chart. They are read again when others have saved records of the table. */
export const useFigures = (table: TableId, listing: Listing, filter: FiguresFilter) =>
  useQuery({
    queryKey: ['records', table, 'figures', listing.filter, listing.shown, filter],
    queryFn: ({ signal }) => send<Figures>('POST', `/api/tables/${table}/figures`, { listing, ...filter }, {}, signal),
    placeholderData: (before) => before,
  });
