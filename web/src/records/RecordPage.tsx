import { say } from '@fiche/core/languages';
import { useParams, useSearchParams } from 'react-router-dom';
import { useOffice, useTableForm } from '../client/index.ts';
import { pageCss } from '../parts/index.ts';
import { CardPage } from './CardPage.tsx';

/** A record on the card that its table has by itself. */
export function RecordPage() {
  const { cabinet = '', table = '', record } = useParams();
  const { tables } = useOffice();
  const [address] = useSearchParams();
  const view = Number(address.get('view') ?? 0);
  const definition = tables.get(table);
  const form = useTableForm(definition);
  if (!form) return <p className={pageCss.empty}>{say('This table is not there any more.')}</p>;
  return (
    <CardPage
      form={form}
      version={null}
      base={`/api/tables/${table}`}
      path={`/${cabinet}/tables/${table}`}
      record={record}
      {...(view > 0 ? { view, asked: address.get('asked'), search: `?${address}` } : {})}
    />
  );
}
