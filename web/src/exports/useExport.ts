import type { ExportOrder, ExportState } from '@fiche/core/api';
import type { TableId } from '@fiche/core/tables';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { type PlacedProblems, placedProblems, send } from '../client/index.ts';

/** How often the page asks how far an export is, in milliseconds. */
const EVERY = 500;
const isOver = ({ state }: ExportState): boolean => state !== 'waiting' && state !== 'running';

/** An export of records: asked for, downloaded by the browser, followed until it is over, cancelled. */
export function useExport(table: TableId) {
  const base = `/api/tables/${table}/exports`;
  const [order, setOrder] = useState<ExportState>();
  const [problems, setProblems] = useState<PlacedProblems>();
  const followed = useQuery({
    queryKey: ['export', order?.id],
    queryFn: () => send<ExportState>('GET', `${base}/${order?.id}`),
    enabled: order !== undefined,
    initialData: order,
    refetchInterval: (query) => (query.state.data && isOver(query.state.data) ? false : EVERY),
  });
  const now = order && (followed.data?.id === order.id ? followed.data : order);
  return {
    now,
    problems,
    over: now !== undefined && isOver(now),
    /** Asks for a file, and has the browser save it, or show it in a tab of its own. */
    async begin(what: ExportOrder, places: readonly string[]): Promise<void> {
      setProblems(undefined);
      setOrder(undefined);
      try {
        const made = await send<ExportState>('POST', base, what);
        setOrder(made);
        openFile(`${base}/${made.id}/file`, what.print !== undefined);
      } catch (error) {
        setProblems(placedProblems(error, places));
      }
    },
    async cancel(): Promise<void> {
      if (now) setOrder(await send<ExportState>('DELETE', `${base}/${now.id}`));
    },
  };
}

function openFile(address: string, shown: boolean): void {
  const link = document.createElement('a');
  link.href = address;
  if (shown) link.target = '_blank';
  else link.download = '';
  link.click();
}
