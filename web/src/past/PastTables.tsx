import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useContext, useMemo } from 'react';
import { OfficeContext, send } from '../client/index.ts';
import { Waiting } from '../parts/index.ts';

interface PastTablesProps {
  readonly asOf: string;
  readonly children: ReactNode;
}

/**
 * Shows what is in it by the tables as they were defined at a moment: with the names, the fields and the types of then. Where these
 * cannot be had, by those of today: what is in it then says what is wrong with the moment.
 */
export function PastTables({ asOf, children }: PastTablesProps) {
  const office = useContext(OfficeContext);
  const cabinet = office?.cabinet.id;
  const { data, isPending } = useQuery({
    queryKey: ['cabinet', cabinet, 'as-of', asOf],
    queryFn: () =>
      send<{ tables: TableDefinition[] }>('GET', `/api/cabinets/${cabinet}/as-of?${new URLSearchParams({ at: asOf })}`),
    retry: false,
  });
  const then = useMemo(() => {
    if (!office || !data) return office;
    const known = new Map(data.tables.map((table) => [table.id, table]));
    const tables = office.cabinet.tables.map((table) => known.get(table.id) ?? table);
    return { ...office, cabinet: { ...office.cabinet, tables } };
  }, [office, data]);
  if (isPending) return <Waiting what={say('Looking up how the table was defined…')} />;
  return <OfficeContext value={then}>{children}</OfficeContext>;
}
