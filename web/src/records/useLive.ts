import type { RecordView } from '@fiche/core/api';
import type { TableId } from '@fiche/core/tables';
import { useEffect, useRef } from 'react';
import { listenAt } from '../client/index.ts';

/**
 * Calls `then` when somebody may have saved the record that is open. Listens while the page is in sight: a browser has
 * few connections to give, and people open many tabs. What happened meanwhile is asked when it comes into sight again.
 */
export function useLive(table: TableId, record: RecordView | undefined, then: () => void): void {
  const latest = useRef(then);
  latest.current = then;
  const [id, version] = [record?.id, record?.version];
  useEffect(() => {
    if (id === undefined) return;
    let stop: (() => void) | undefined;
    const listen = (): void => {
      stop = listenAt(`/api/tables/${table}/records/${id}/events?version=${version}`, {
        onMessage: () => latest.current(),
      });
    };
    const onSight = (): void => {
      if (document.visibilityState === 'hidden') {
        stop?.();
        stop = undefined;
      } else if (!stop) {
        listen();
        latest.current();
      }
    };
    if (document.visibilityState !== 'hidden') listen();
    document.addEventListener('visibilitychange', onSight);
    return () => {
      document.removeEventListener('visibilitychange', onSight);
      stop?.();
    };
  }, [table, id, version]);
}

/** What tells two states of a record and its lines apart. */
export const stateOf = (record: Pick<RecordView, 'version' | 'archived' | 'lines'>): string =>
  JSON.stringify([
    record.version,
    record.archived,
    Object.values(record.lines ?? {}).map((lines) => lines.map((line) => [line.id, line.version])),
  ]);
