import type { TableId } from '@fiche/core/tables';
import { useQuery } from '@tanstack/react-query';
import { send } from '../client/index.ts';

interface Placed {
  readonly id: number;
  readonly place: { readonly position: number | null; readonly total: number | null };
}

/** Which of how many a record is: as it came, or, in a table of very many, counted while its card is there already. */
export function usePlaceNumbers(table: TableId, record: Placed | undefined) {
  const isCounted = record !== undefined && record.place.position !== null;
  const { data } = useQuery({
    queryKey: ['place', table, record?.id],
    queryFn: () => send<{ position: number; total: number }>('GET', `/api/tables/${table}/records/${record?.id}/place`),
    enabled: record !== undefined && !isCounted,
    staleTime: 10_000,
  });
  if (!record) return undefined;
  const { position, total } = record.place;
  return position === null || total === null ? data : { position, total };
}
