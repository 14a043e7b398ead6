import type { FieldLevel } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { findField, type TableDefinition } from '@fiche/core/tables';
import Alert from '@mui/material/Alert';
import Button from '@mui/material/Button';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { send, useOffice } from '../client/index.ts';
import type { ChangeTable } from './useTableWork.tsx';

/** Proposes to turn fields that hold the words of an option list’s levels into choices from it, all levels at once. */
export function LevelsProposal({ table, change }: { readonly table: TableDefinition; readonly change: ChangeTable }) {
  const { cabinet, tables } = useOffice();
  const [trouble, setTrouble] = useState('');
  const address = `/api/tables/${table.id}/levels`;
  const { data } = useQuery({
    queryKey: ['field-levels', table.id, table.revision],
    queryFn: () => send<{ levels: readonly FieldLevel[] }>('GET', address),
    enabled: table.kind === 'records' && cabinet.tables.some((one) => one.kind === 'list' && !one.archived),
    staleTime: 60_000,
  });
  const levels = data?.levels ?? [];
  const lists = [...new Set(levels.map((one) => one.table))];
  return lists.map((list) => {
    const own = levels.filter((one) => one.table === list);
    const labels = own.map((one) => findField(table, one.field)?.label ?? one.field);
    const named = new Intl.ListFormat('en', { type: 'conjunction' }).format(labels);
    const label = tables.get(list)?.label ?? list;
    const make = () => change('POST', address, { levels: own, revision: table.revision }, setTrouble);
    return (
      <Alert
        key={list}
        severity={trouble ? 'warning' : 'info'}
        sx={{ marginBottom: 1.5 }}
        action={
          <Button onClick={() => void make()}>
            {say('Make {count} from {label}', {
              count: own.length > 1 ? say('them choices') : say('it a choice'),
              label,
            })}
          </Button>
        }
      >
        {trouble ||
          say('{named} hold{count} the words of the option list {label}.', {
            named,
            count: own.length > 1 ? '' : 's',
            label,
          })}
      </Alert>
    );
  });
}
