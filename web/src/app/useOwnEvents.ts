import type { SessionView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { RecordId, TableId } from '@fiche/core/tables';
import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect } from 'react';
import { useNavigate } from 'react-router-dom';
import { type CabinetView, listenAt, send } from '../client/index.ts';
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
    let stop: (() => void) | undefined;
    const hear = (data: string): void => {
      const told = JSON.parse(data) as Told;
      void queries.invalidateQueries({ queryKey: INBOX });
      if (told.kind !== 'assigned') return;
      const label = cabinet?.tables.find((one) => one.id === told.table)?.label;
      notify(
        say('{by} assigned a record{label} to you.', {
          by: told.by,
          label: label ? ` ${say('of {label}', { label })}` : '',
        }),
        undefined,
        {
          label: say('Open it'),
          go: () => navigate(`/${told.cabinet}/tables/${told.table}/${told.record}`),
        },
      );
    };
    const listen = (): void => {
      stop?.();
      stop = undefined;
      if (document.visibilityState === 'hidden') return;
      // The server ends a stream when rights change; the browser opens it anew, unless nobody is signed in any more.
      stop = listenAt('/api/events', {
        onMessage: hear,
        onOpen: (again) => {
          if (again) void readSession();
          // What came while nothing was heard.
          void queries.invalidateQueries({ queryKey: INBOX });
        },
        onRefused: () => void readSession(),
      });
    };
    listen();
    document.addEventListener('visibilitychange', listen);
    return () => {
      document.removeEventListener('visibilitychange', listen);
      stop?.();
    };
  }, [cabinet, navigate, notify, queries, readSession]);
}
