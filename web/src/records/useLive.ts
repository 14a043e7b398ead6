import type { RecordView } from '@fiche/core/api';
import { useEffect, useRef } from 'react';

/** Calls `then` with the account when somebody saves the record that is open, at once where it was saved meanwhile. */
export function useLive(table: string, record: RecordView | undefined, then: (by: string) => void): void {
  const latest = useRef(then);
  latest.current = then;
  const [id, version] = [record?.id, record?.version];
  useEffect(() => {
    if (id === undefined) return;
    const source = new EventSource(`/api/tables/${table}/records/${id}/events?version=${version}`);
    source.onmessage = ({ data }) => latest.current((JSON.parse(String(data)) as { by: string }).by);
    return () => source.close();
  }, [table, id, version]);
}

/** What tells two states of a record and its lines apart. */
export const stateOf = (record: Pick<RecordView, 'version' | 'archived' | 'lines'>): string =>
  JSON.stringify([
    record.version,
    record.archived,
    Object.values(record.lines ?? {}).map((lines) => lines.map((line) => [line.id, line.version])),
  ]);
