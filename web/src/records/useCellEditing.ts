import type { ListedRecord } from '@fiche/core/api';
import { holdsFiles } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { TableDefinition } from '@fiche/core/tables';
import type { KnownColumn } from '@fiche/core/views';
import { useState } from 'react';
import { useTableForm } from '../client/index.ts';
import { useNotify } from '../parts/index.ts';
import type { EditStep } from './CellEditor.tsx';
import type { ActiveCell } from './useGridKeys.ts';
import type { useRowSteps } from './useRowSteps.ts';

/** The cell that is edited, with what was typed to begin. */
interface EditedCell extends ActiveCell {
  readonly typed: string | undefined;
  /** Rises with every move, also one that stays at its cell. */
  readonly turn: number;
}

interface CellEditingProps {
  readonly table: TableDefinition;
  readonly columns: readonly KnownColumn[];
  /** Whether records are changed in the list. */
  readonly allowed: boolean;
  /** Where saves are remembered, to be undone. */
  readonly steps: Pick<ReturnType<typeof useRowSteps>, 'set'>;
}

/** Which cell of a grid is edited, and where editing goes on: over the fields that its role writes. */
export function useCellEditing(
  { table, columns, allowed, steps }: CellEditingProps,
  recordOfRow: (row: number) => ListedRecord | undefined,
) {
  const notify = useNotify();
  const form = useTableForm(table);
  const [edited, setEdited] = useState<EditedCell>();
  const isEditable = (column: number): boolean => {
    const field = form.fields.get(columns[column]?.path ?? '');
    return field?.placed === true && !field.readOnly && !holdsFiles(field.field);
  };
  return {
    edited: allowed ? edited : undefined,
    edit({ row, column }: ActiveCell, typed?: string): void {
      const record = recordOfRow(row);
      if (!record) return;
      if (record.archived) notify(say('This record is archived. Restore it first.'));
      else if (!isEditable(column))
        notify(say('{label} is not changed here.', { label: columns[column]?.label ?? say('This') }));
      else
        setEdited((now) => {
          // More of what is typed while the record is being read.
          const goesOn = now?.row === row && now.column === column && typed !== undefined;
          return { row, column, typed: goesOn ? `${now.typed ?? ''}${typed}` : typed, turn: now?.turn ?? 0 };
        });
    },
    /** Writes what the cell above holds into a cell, at once. */
    fillFromAbove({ row, column }: ActiveCell): void {
      const [record, above] = [recordOfRow(row), recordOfRow(row - 1)];
      const path = columns[column]?.path ?? '';
      if (!record || !above) notify(say('There is no record above this one.'));
      else if (record.archived) notify(say('This record is archived. Restore it first.'));
      else if (!isEditable(column))
        notify(say('{label} is not changed here.', { label: columns[column]?.label ?? say('This') }));
      else {
        const of = ({ values }: ListedRecord) => ({ [path]: values[path] ?? null });
        void steps.set(record.id, record.version, of(record), of(above));
      }
    },
    /** Goes on editing; gives the cell where, or nothing where it ends. */
    step(to: EditStep): ActiveCell | undefined {
      const now = edited;
      const turn = (now?.turn ?? 0) + 1;
      setEdited(undefined);
      if (!now || to === 'nowhere') return undefined;
      if (to === 'down') {
        const below = { row: now.row + 1, column: now.column };
        if (recordOfRow(below.row)) setEdited({ ...below, typed: undefined, turn });
        return recordOfRow(below.row) ? below : { row: now.row, column: now.column };
      }
      const places = columns.map((_column, at) => at).filter(isEditable);
      const at = places.indexOf(now.column) + (to === 'next' ? 1 : -1);
      const column = places[at];
      // Beyond the row it stays where it is: the row is saved by Enter.
      setEdited({ row: now.row, column: column ?? now.column, typed: undefined, turn });
      return { row: now.row, column: column ?? now.column };
    },
  };
}
