import type { RecordId, TableId } from '@fiche/core/tables';
import { useEffect } from 'react';
import { useNavigate } from 'react-router-dom';
import type { CabinetView } from '../client/index.ts';
import { useNotify } from '../parts/index.ts';

interface Assigned {
  readonly kind: 'assigned';
  readonly by: string;
  readonly cabinet: string;
  readonly table: TableId;
  readonly record: RecordId;
}

/**
 * Says when a record is assigned to whoever is signed in, with a way to open it. Listens while the page is in sight: a
 * browser has few connections to give.
 */
export function useAssigned(cabinet: CabinetView | undefined): void {
  const notify = useNotify();
  const navigate = useNavigate();
  useEffect(() => {
    let source: EventSource | undefined;
    const listen = (): void => {
      source?.close();
      source = undefined;
      if (document.visibilityState === 'hidden') return;
      source = new EventSource('/api/events');
      source.onmessage = ({ data }: MessageEvent<string>) => {
        const told = JSON.parse(data) as Assigned;
        const label = cabinet?.tables.find((one) => one.id === told.table)?.label;
        notify(`${told.by} assigned a record${label ? ` of ${label}` : ''} to you.`, undefined, {
          label: 'Open it',
          go: () => navigate(`/${told.cabinet}/tables/${told.table}/${told.record}`),
        });
      };
    };
    listen();
    document.addEventListener('visibilitychange', listen);
    return () => {
      document.removeEventListener('visibilitychange', listen);
      source?.close();
    };
  }, [cabinet, navigate, notify]);
}
