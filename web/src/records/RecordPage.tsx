import { generateForm, prepareForm } from '@fiche/core/forms';
import { formForRole } from '@fiche/core/rights';
import { useMemo } from 'react';
import { useParams } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { pageCss } from '../parts/index.ts';
import { CardPage } from './CardPage.tsx';

/** A record on the card that its table has by itself. */
export function RecordPage() {
  const { cabinet = '', table = '', record } = useParams();
  const { cabinet: office, tables } = useOffice();
  const definition = tables.get(table);
  const form = useMemo(
    () => (definition ? prepareForm(formForRole(office.role, generateForm(definition), tables), tables) : undefined),
    [definition, tables, office.role],
  );
  if (!form) return <p className={pageCss.empty}>This table is not there any more.</p>;
  return (
    <CardPage
      form={form}
      version={null}
      base={`/api/tables/${table}`}
      path={`/${cabinet}/tables/${table}`}
      record={record}
    />
  );
}
