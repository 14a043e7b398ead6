import type { UsesView } from '@fiche/core/api';
import { useQuery } from '@tanstack/react-query';
import { send, useOffice } from '../client/index.ts';

/** What is asked about: a table, a field of it, an option of that, a view, or a form. */
export interface AskedThing {
  readonly table?: string;
  readonly field?: string;
  readonly option?: string;
  readonly view?: number;
  readonly form?: string;
}

/** Asks where something is used. */
export const askUses = (cabinet: string, thing: AskedThing): Promise<UsesView> => {
  const query = Object.entries(thing).flatMap(([key, value]) => (value === undefined ? [] : [[key, String(value)]]));
  return send<UsesView>('GET', `/api/cabinets/${cabinet}/uses?${new URLSearchParams(query)}`);
};

/** Where something is used, for whoever builds. */
export function useUses(thing: AskedThing) {
  const { cabinet, may } = useOffice();
  return useQuery({
    queryKey: ['uses', cabinet.id, thing],
    queryFn: () => askUses(cabinet.id, thing),
    enabled: may('build'),
    staleTime: 0,
  });
}
