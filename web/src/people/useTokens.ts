import type { TokenView } from '@fiche/core/api';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { send, useOffice } from '../client/index.ts';

interface NewToken {
  readonly name: string;
  readonly role: string;
  readonly tables: readonly string[] | null;
  readonly until: string | null;
}

/** The tokens of the open cabinet, and the way to make and to revoke one. */
export function useTokens() {
  const { cabinet } = useOffice();
  const url = `/api/cabinets/${cabinet.id}/tokens`;
  const queries = useQueryClient();
  const query = useQuery({
    queryKey: ['tokens', cabinet.id],
    queryFn: () => send<{ tokens: TokenView[] }>('GET', url),
  });
  const readAgain = (): Promise<void> => queries.invalidateQueries({ queryKey: ['tokens'] });
  return {
    tokens: query.data?.tokens ?? [],
    error: query.error,
    /** Makes a token and answers with it: it is not shown again. Throws what the server refuses. */
    async make(wanted: NewToken): Promise<string> {
      const { token } = await send<{ token: string }>('POST', url, wanted);
      await readAgain();
      return token;
    },
    async revoke(id: number): Promise<void> {
      await send('DELETE', `${url}/${id}`);
      await readAgain();
    },
  };
}
