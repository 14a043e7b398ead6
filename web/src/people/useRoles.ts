import type { ListedRole } from '@fiche/core/api';
import type { RoleDefinition } from '@fiche/core/rights';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { send, useOffice, useRefreshCabinet } from '../client/index.ts';

/** The roles of the open cabinet for whoever manages its people, and the ways to change them. */
export function useRoles() {
  const { cabinet, may } = useOffice();
  const url = `/api/cabinets/${cabinet.id}/roles`;
  const queries = useQueryClient();
  const refreshCabinet = useRefreshCabinet();
  const query = useQuery({
    queryKey: ['roles', cabinet.id],
    queryFn: () => send<{ roles: ListedRole[] }>('GET', url),
    enabled: may('people'),
  });
  /** Sends a change and reads anew what hangs on roles; throws what the server refuses. */
  const act = async <T>(method: 'POST' | 'PUT' | 'DELETE', path: string, body?: object): Promise<T> => {
    const answer = await send<T>(method, `${url}${path}`, body);
    await Promise.all([
      queries.invalidateQueries({ queryKey: ['roles'] }),
      queries.invalidateQueries({ queryKey: ['people'] }),
      refreshCabinet(),
    ]);
    return answer;
  };
  return {
    roles: query.data?.roles,
    error: query.error,
    create: (label: string, from: string) => act<{ id: string }>('POST', '', { label, from }),
    save: (id: string, definition: RoleDefinition, revision: number) =>
      act<unknown>('PUT', `/${id}`, { definition, revision }),
    remove: (id: string) => act<unknown>('DELETE', `/${id}`),
    reload: () => queries.invalidateQueries({ queryKey: ['roles'] }),
  };
}
