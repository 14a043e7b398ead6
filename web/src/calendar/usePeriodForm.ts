import type { RunningForm } from '@fiche/core/api';
import { type PreparedForm, prepareForm } from '@fiche/core/forms';
import type { TableDefinition } from '@fiche/core/tables';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { send, useOffice, useTableForm } from '../client/index.ts';

/** Where the records of a calendar are opened and entered, and by what a move is checked: a form, or the table’s card. */
export interface PeriodForm {
  /** Where it runs, and where its cards live on the page’s own address. */
  readonly base: string;
  readonly path: string;
  readonly prepared: PreparedForm;
}

/** The form of a calendar’s settings; the table’s card where it has none, or where that form is not there any more. */
export function usePeriodForm(table: TableDefinition, id: string | null): PeriodForm {
  const { cabinet } = useOffice();
  const card = useTableForm(table);
  const known = id !== null && cabinet.forms.some((one) => one.id === id && one.liveVersion !== null && !one.archived);
  const query = useQuery({
    queryKey: ['form', id, 'calendar'],
    queryFn: () => send<RunningForm>('GET', `/api/forms/${id}`),
    enabled: known,
  });
  return useMemo(() => {
    const running = known ? query.data : undefined;
    if (!running) return { base: `/api/tables/${table.id}`, path: `/${cabinet.id}/tables/${table.id}`, prepared: card };
    const tables = new Map(running.tables.map((one: TableDefinition) => [one.id, one]));
    return {
      base: `/api/forms/${id}`,
      path: `/${cabinet.id}/forms/${id}`,
      prepared: prepareForm(running.definition, tables),
    };
  }, [known, query.data, table.id, cabinet.id, card, id]);
}
