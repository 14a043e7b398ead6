import { generateForm, type PreparedForm, prepareForm } from '@fiche/core/forms';
import { formForRole } from '@fiche/core/rights';
import type { TableDefinition } from '@fiche/core/tables';
import { useMemo } from 'react';
import { useOffice } from './office.ts';

/** The card that a table has by itself, as the role of whoever is signed in has it; undefined without a table. */
export function useTableForm<T extends TableDefinition | undefined>(
  table: T,
): T extends undefined ? undefined : PreparedForm;
export function useTableForm(table: TableDefinition | undefined): PreparedForm | undefined {
  const { cabinet, tables } = useOffice();
  return useMemo(
    () => (table ? prepareForm(formForRole(cabinet.role, generateForm(table), tables), tables) : undefined),
    [cabinet.role, table, tables],
  );
}
