import type { PersonView } from '@fiche/core/api';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { send, useOffice, useRefreshCabinet } from '../client/index.ts';

/** A role, and whether the one who is signed in may give it. */
export interface GivableRole {
  readonly id: string;
  readonly label: string;
  readonly rights: readonly string[];
  readonly mayGive: boolean;
}

interface People {
  readonly people: readonly PersonView[];
  readonly roles: readonly GivableRole[];
  readonly others: readonly { readonly login: string; readonly displayName: string }[];
}

/** The people of the open cabinet for whoever manages them, and the way to change something. */
export function usePeople() {
  const { cabinet, may } = useOffice();
  const url = `/api/cabinets/${cabinet.id}/accounts`;
  const queries = useQueryClient();
  const refreshCabinet = useRefreshCabinet();
  const query = useQuery({
    queryKey: ['people', cabinet.id],
    queryFn: () => send<People>('GET', url),
    enabled: may('people'),
  });
  return {
    url,
    people: query.data,
    error: query.error,
    /** Sends a change and reads the list anew; throws what the server refuses. */
    async act<T>(method: 'POST' | 'PUT' | 'PATCH' | 'DELETE', path: string, body?: object): Promise<T> {
      const answer = await send<T>(method, `${url}${path}`, body);
      await Promise.all([queries.invalidateQueries({ queryKey: ['people'] }), refreshCabinet()]);
      return answer;
    },
  };
}
