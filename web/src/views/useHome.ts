import type { HomeAnswer, HomeViews } from '@fiche/core/api';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { send, useOffice } from '../client/index.ts';

/** The views on one’s Home of the open cabinet, and how they are chosen. */
export function useHome() {
  const { cabinet } = useOffice();
  const client = useQueryClient();
  const address = `/api/cabinets/${cabinet.id}/home`;
  const queryKey = ['home', cabinet.id];
  const query = useQuery({ queryKey, queryFn: () => send<HomeAnswer>('GET', address), staleTime: 0 });
  const home = query.data;
  const set = async (views: HomeViews): Promise<void> => {
    client.setQueryData(queryKey, await send<HomeAnswer>('PUT', address, { views }));
  };
  const shown = home?.views.map((one) => one.view.id) ?? [];
  const hidden = home?.hidden.map((one) => one.view) ?? [];
  const write = (order: readonly number[], off: readonly number[]): Promise<void> =>
    set([...order.map((view) => ({ view, hidden: false })), ...off.map((view) => ({ view, hidden: true }))]);
  return {
    home,
    error: query.error,
    has: (view: number): boolean => shown.includes(view),
    add: (view: number): Promise<void> =>
      write(
        [...shown, view],
        hidden.filter((one) => one !== view),
      ),
    /** Takes a view off one’s own Home; one that is on everybody’s is kept as hidden. */
    remove: (view: number): Promise<void> => {
      const everybodys = home?.views.some((one) => one.view.id === view && one.view.home) === true;
      return write(
        shown.filter((one) => one !== view),
        everybodys ? [...hidden, view] : hidden,
      );
    },
    /** Puts two views in each other’s place. */
    swap: (one: number, other: number): Promise<void> =>
      write(
        shown.map((view) => (view === one ? other : view === other ? one : view)),
        hidden,
      ),
  };
}
