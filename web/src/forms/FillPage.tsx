import type { RunningForm } from '@fiche/core/api';
import { prepareForm, withoutDestinations } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { Link, useParams, useSearchParams } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import { pageCss, Waiting } from '../parts/index.ts';
import { CardPage, RecordGrid, RowsPage } from '../records/index.ts';
import { AskedOfView, ViewRecords } from '../views/index.ts';

/**
 * The published version of a form, being filled. A card that was begun on a version is finished on it; the next one takes
 * up a newer one.
 */
export function FillPage() {
  const { cabinet = '', form = '', record } = useParams();
  const { tables, may } = useOffice();
  const [address] = useSearchParams();
  const query = useQuery({
    queryKey: ['form', form],
    queryFn: () => send<RunningForm>('GET', `/api/forms/${form}`),
    staleTime: 0,
    gcTime: 0,
  });
  const prepared = useMemo(
    () =>
      query.data
        ? prepareForm(
            record === undefined || record === 'new'
              ? query.data.definition
              : withoutDestinations(query.data.definition),
            new Map(query.data.tables.map((table: TableDefinition) => [table.id, table])),
          )
        : undefined,
    [query.data, record],
  );
  // A question that failed while a card is being filled takes nothing away.
  if (query.isError && !query.data)
    return (
      <p className={pageCss.empty} role="alert">
        {query.error.message}
      </p>
    );
  if (!prepared || !query.data) return <Waiting what={say('Fetching the form…')} />;
  const path = `/${cabinet}/forms/${form}`;
  const asked = address.get('asked');
  const { definition } = prepared;
  const table = tables.get(definition.table);
  if (record === undefined && definition.opensOn === 'records' && table)
    return (
      <div className={pageCss.body}>
        <div className={pageCss.head}>
          <h1>{definition.label}</h1>
          <div className={pageCss.end}>
            {may('add', definition.table) && definition.may.add && (
              <Button component={Link} to={`${path}/new`}>
                {say('New record')}
              </Button>
            )}
          </div>
        </div>
        {definition.view == null ? (
          <RecordGrid table={table} path={path} />
        ) : (
          <ViewRecords table={table} path={path} view={definition.view} />
        )}
      </div>
    );
  if (record === undefined && (definition.opensOn === 'rows' || definition.opensOn === 'blankRows'))
    return (
      <RowsPage
        form={prepared}
        version={query.data.version}
        base={`/api/forms/${form}`}
        path={path}
        asked={asked}
        above={
          table && definition.view != null && definition.opensOn === 'rows' ? (
            <AskedOfView table={table} view={definition.view} />
          ) : undefined
        }
      />
    );
  return (
    <CardPage
      form={prepared}
      version={query.data.version}
      base={`/api/forms/${form}`}
      path={path}
      formId={form}
      view={definition.view}
      asked={asked}
      search={asked === null ? '' : `?${new URLSearchParams({ asked })}`}
      record={record === 'new' ? undefined : record}
    />
  );
}
