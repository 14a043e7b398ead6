import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import type { FieldId, RecordId, TableId } from '@fiche/core/tables';
import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { textCss } from '../parts/index.ts';
import linkingCss from './linking.module.css';

interface Linking {
  readonly table: TableId;
  readonly field: FieldId;
  readonly count: number;
  readonly records: readonly { id: number; title: string }[];
}

/** A link seen from its other end: which records link to this one, counted, named, and a step away. */
export function LinkingRecords({ table, record }: { table: TableId; record: RecordId }) {
  const { cabinet, tables } = useOffice();
  const query = useQuery({
    queryKey: ['linking', table, record],
    queryFn: () => send<{ linking: Linking[] }>('GET', `/api/tables/${table}/records/${record}/linking`),
    staleTime: 0,
  });
  const linking = query.data?.linking ?? [];
  if (linking.length === 0) return null;
  return (
    <section className={linkingCss.linking} aria-label={say('What links here')}>
      <h2>{say('What links here')}</h2>
      <dl>
        {linking.map(({ table: from, field, count, records }) => {
          const source = tables.get(from);
          const label = source?.fields.find((one) => one.id === field)?.label ?? field;
          const path = `/${cabinet.id}/tables/${from}`;
          return (
            <div key={`${from}.${field}`}>
              <dt>
                {count > 0 ? (
                  <Link to={`${path}?records&linking=${field}:${record}`}>
                    {source?.label}: {formatCount(count)}
                  </Link>
                ) : (
                  <span className={textCss.faded}>{say('{label}: none', { label: source?.label ?? '' })}</span>
                )}{' '}
                <span className={textCss.faded}>{say('by {label}', { label })}</span>
              </dt>
              <dd>
                {records.map((one, n) => (
                  <span key={one.id}>
                    {n > 0 && ', '}
                    <Link to={`${path}/${one.id}`}>{one.title}</Link>
                  </span>
                ))}
                {count > records.length && (
                  <span className={textCss.faded}>{say(', and {count} more', { count: count - records.length })}</span>
                )}
              </dd>
            </div>
          );
        })}
      </dl>
    </section>
  );
}
