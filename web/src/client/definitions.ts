import type { SessionView } from '@fiche/core/api';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { send } from './http.ts';
import type { CabinetView } from './office.ts';

export const useSession = () =>
  useQuery({ queryKey: ['session'], queryFn: () => send<SessionView>('GET', '/api/session'), staleTime: 60_000 });

export const useCabinetQuery = (cabinet: string) =>
  useQuery({ queryKey: ['cabinet', cabinet], queryFn: () => send<CabinetView>('GET', `/api/cabinets/${cabinet}`) });

/** Fetches the cabinet's definitions anew after one of them changed. */
export function useRefreshCabinet(): () => Promise<void> {
  const client = useQueryClient();
  return () => client.invalidateQueries({ queryKey: ['cabinet'] });
}
