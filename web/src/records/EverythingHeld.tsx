import type { EverythingHeld as Everything } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import type { RecordId, TableId } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { send } from '../client/index.ts';
import { takeAway, textCss } from '../parts/index.ts';

/** What is held about a record and what links to it, to be looked at and exported before it is erased. */
export function EverythingHeld({ table, record }: { table: TableId; record: RecordId }) {
  const query = useQuery({
    queryKey: ['everything', table, record],
    queryFn: () => send<Everything>('GET', `/api/tables/${table}/records/${record}/everything`),
  });
  if (query.isPending) return <p className={textCss.faded}>{say('Looking for everything kept about it…')}</p>;
  if (query.isError) return <p className={textCss.problem}>{query.error.message}</p>;
  const { data } = query;
  const save = (): void => takeAway(`${table}-${record}.json`, 'application/json', JSON.stringify(data, null, 2));
  return (
    <div>
      <p>
        {say('Kept about it: the record, {count} of history{list}.', {
          count: sayCount(data.lines.length, '{count} line', '{count} lines'),
          list: data.linking
            .map((one) =>
              say(', {count} of {label} ({field})', {
                count: sayCount(one.count, '{count} record', '{count} records'),
                label: one.label,
                field: one.field,
              }),
            )
            .join(''),
        })}
      </p>
      <p>
        <Button variant="text" onClick={save}>
          {say('Export all of it as JSON')}
        </Button>
      </p>
    </div>
  );
}
