import type { TableId } from '@fiche/core/tables';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { listenAt } from '../client/index.ts';

/**
 * Reads the rows of a list again when others have saved records of its table. Listens while the page is in sight; while
 * `paused`, as for a cell that is being edited, the rows stay as they are, and are read again afterwards.
 */
export function useLiveRows(table: TableId, paused: boolean): void {
  const queries = useQueryClient();
  const missed = useRef(false);
  const stays = useRef(paused);
  stays.current = paused;
  useEffect(() => {
    let stop: (() => void) | undefined;
    const read = (): void => {
      if (stays.current) missed.current = true;
      else void queries.invalidateQueries({ queryKey: ['records', table] });
    };
    const onSight = (): void => {
      if (document.visibilityState === 'hidden') {
        stop?.();
        stop = undefined;
      } else
        stop ??= listenAt(`/api/tables/${table}/events`, {
          onMessage: read,
          onOpen: (again) => again && read(),
        });
    };
    onSight();
    document.addEventListener('visibilitychange', onSight);
    return () => {
      document.removeEventListener('visibilitychange', onSight);
      stop?.();
    };
  }, [table, queries]);
  useEffect(() => {
    if (paused || !missed.current) return;
    missed.current = false;
    void queries.invalidateQueries({ queryKey: ['records', table] });
  }, [paused, table, queries]);
}
