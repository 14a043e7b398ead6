import type { ViewView } from '@fiche/core/api';
import type { TableId } from '@fiche/core/tables';
import type { ViewDefinition } from '@fiche/core/views';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { send } from '../client/index.ts';

/** The views of a table that one has, and making, changing and deleting one. */
export function useViews(table: TableId) {
  const queries = useQueryClient();
  const at = `/api/tables/${table}/views`;
  const query = useQuery({
    queryKey: ['views', table],
    queryFn: () => send<{ views: ViewView[] }>('GET', at),
    staleTime: 30_000,
  });
  const after = async <T>(work: Promise<T>): Promise<T> => {
    const answer = await work;
    await queries.invalidateQueries({ queryKey: ['views', table] });
    return answer;
  };
  return {
    views: query.data?.views,
    error: query.error,
    create: (definition: ViewDefinition) => after(send<ViewView>('POST', at, { definition })),
    change: ({ id, revision }: ViewView, definition: ViewDefinition) =>
      after(send<ViewView>('PUT', `${at}/${id}`, { definition, revision })),
    remove: ({ id }: ViewView) => after(send('DELETE', `${at}/${id}`)),
  };
}
