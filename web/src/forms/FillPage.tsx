import type { RunningForm } from '@fiche/core/api';
import { prepareForm } from '@fiche/core/forms';
import type { TableDefinition } from '@fiche/core/tables';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { useParams } from 'react-router-dom';
import { send } from '../client/index.ts';
import { Waiting } from '../parts/index.ts';
import { CardPage } from '../records/index.ts';

/** The published version of a form, being filled. */
export function FillPage() {
  const { cabinet = '', form = '', record } = useParams();
  const query = useQuery({
    queryKey: ['form', form],
    queryFn: () => send<RunningForm>('GET', `/api/forms/${form}`),
    staleTime: 0,
  });
  const prepared = useMemo(
    () =>
      query.data
        ? prepareForm(
            query.data.definition,
            new Map(query.data.tables.map((table: TableDefinition) => [table.id, table])),
          )
        : undefined,
    [query.data],
  );
  if (query.isError)
    return (
      <p className="empty" role="alert">
        {query.error.message}
      </p>
    );
  if (!prepared || !query.data) return <Waiting what="Fetching the form…" />;
  return (
    <CardPage
      key={`${form}-${query.data.version}`}
      form={prepared}
      version={query.data.version}
      base={`/api/forms/${form}`}
      path={`/${cabinet}/forms/${form}`}
      record={record === 'new' ? undefined : record}
    />
  );
}
