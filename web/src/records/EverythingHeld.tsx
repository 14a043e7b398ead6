import type { EverythingHeld as Everything } from '@fiche/core/api';
import { formatCount } from '@fiche/core/office';
import type { RecordId, TableId } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { send } from '../client/index.ts';
import { takeAway, textCss } from '../parts/index.ts';

const n = (count: number, one: string, many: string): string => `${formatCount(count)} ${count === 1 ? one : many}`;

/** What is held about a record and what links to it, to be looked at and exported before it is erased. */
export function EverythingHeld({ table, record }: { table: TableId; record: RecordId }) {
  const query = useQuery({
    queryKey: ['everything', table, record],
    queryFn: () => send<Everything>('GET', `/api/tables/${table}/records/${record}/everything`),
  });
  if (query.isPending) return <p className={textCss.faded}>Looking for everything kept about it…</p>;
  if (query.isError) return <p className={textCss.problem}>{query.error.message}</p>;
  const { data } = query;
  const save = (): void => takeAway(`${table}-${record}.json`, 'application/json', JSON.stringify(data, null, 2));
  return (
    <div>
      <p>
        Kept about it: the record, {n(data.lines.length, 'line', 'lines')} of history
        {data.linking.map((one) => `, ${n(one.count, 'record', 'records')} of ${one.label} (${one.field})`).join('')}.
      </p>
      <p>
        <Button variant="text" onClick={save}>
          Export all of it as JSON
        </Button>
      </p>
    </div>
  );
}
