import type { SessionView } from '@fiche/core/api';
import type { RecordId, TableId } from '@fiche/core/tables';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect } from 'react';
import { useNavigate } from 'react-router-dom';
import { type CabinetView, send } from '../client/index.ts';
import { INBOX } from '../messages/index.ts';
import { useNotify } from '../parts/index.ts';

interface Told {
  readonly kind: 'assigned' | 'changed';
  readonly by: string;
  /** Of a record that is assigned. */
  readonly cabinet?: string;
  readonly table?: TableId;
  readonly record?: RecordId;
}

/**
 * Hears what concerns whoever is signed in: what is new in their inbox, a record that is assigned to them with a way to
 * open it, and rights that changed or a session that was ended, which the page then shows. Listens while it is in sight: a
 * browser has few connections to give.
 */
export function useOwnEvents(cabinet: CabinetView | undefined): void {
  const notify = useNotify();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const readSession = useCallback(async (): Promise<void> => {
    // Without a connection the page goes on with what it knows.
    const session = await send<SessionView>('GET', '/api/session').catch(() => undefined);
    if (!session) return;
    queries.setQueryData(['session'], session);
    if (session.login !== null) await queries.invalidateQueries({ queryKey: ['cabinet'] });
  }, [queries]);
  useEffect(() => {
    let source: EventSource | undefined;
    const listen = (): void => {
      source?.close();
      source = undefined;
      if (document.visibilityState === 'hidden') return;
      const opened = new EventSource('/api/events');
      source = opened;
      // The server ends a stream when rights change; the browser opens it anew, unless nobody is signed in any more.
      let before = false;
      opened.onopen = () => {
        if (before) void readSession();
        before = true;
        // What came while nothing was heard.
        void queries.invalidateQueries({ queryKey: INBOX });
      };
      opened.onerror = () => {
        if (opened.readyState === EventSource.CLOSED) void readSession();
      };
      opened.onmessage = ({ data }: MessageEvent<string>) => {
        const told = JSON.parse(data) as Told;
        void queries.invalidateQueries({ queryKey: INBOX });
        if (told.kind !== 'assigned') return;
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
  }, [cabinet, navigate, notify, queries, readSession]);
}
