import type { ListedRecord } from '@fiche/core/api';
import type { PastedRows } from '@fiche/core/changes';
import { MOST_NAMED } from '@fiche/core/changes';
import { holdsFiles } from '@fiche/core/fields';
import { say, sayCount } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import type { KnownColumn } from '@fiche/core/views';
import type { ClipboardEvent } from 'react';
import { useTableForm } from '../client/index.ts';
import { pastedCells, useNotify } from '../parts/index.ts';
import type { PlannedRow } from './rowPlan.ts';
import type { ActiveCell } from './useGridKeys.ts';

/** A block that was pasted over a list: what its cells are to be to the records from the active cell on. */
export interface PastedBlock {
  readonly what: PastedRows;
  /** What of the block has no place there, in words. */
  readonly leftOut: readonly string[];
}

interface PastingProps {
  readonly table: TableDefinition;
  readonly columns: readonly KnownColumn[];
  readonly rows: number;
  rowAt(row: number): PlannedRow;
  /** Reads the records at some places of the list, also those that are not in sight. */
  readRecords(places: readonly number[]): Promise<readonly ListedRecord[]>;
  /** One cell is typed into the active one. */
  onText(text: string): void;
  onBlock(block: PastedBlock): void;
}

/** Takes a block copied from a spreadsheet, from the active cell on to the right and down. */
export function usePastedRows(props: PastingProps, active: ActiveCell) {
  const { table, columns, rows, rowAt } = props;
  const notify = useNotify();
  const form = useTableForm(table);
  const isWritten = ({ path }: KnownColumn): boolean => {
    const field = form.fields.get(path);
    return field?.placed === true && !field.readOnly && !holdsFiles(field.field);
  };
  const paste = async (text: string): Promise<void> => {
    const cells = await pastedCells(text);
    const width = Math.max(...cells.map((row) => row.length));
    if (cells.length === 1 && width === 1) {
      props.onText(cells[0]?.[0] ?? '');
      return;
    }
    if (cells.length > MOST_NAMED) {
      notify(
        say('At most {mostNamed} rows are pasted at once, and these are {count}. Import a file instead.', {
          mostNamed: formatCount(MOST_NAMED),
          count: formatCount(cells.length),
        }),
      );
      return;
    }
    const over = columns.slice(active.column, active.column + width);
    const written = over.flatMap((column, at) => (isWritten(column) ? [{ id: column.path, at }] : []));
    const places: number[] = [];
    for (let row = active.row; row < rows && places.length < cells.length; row++) {
      const planned = rowAt(row);
      if (planned.kind === 'record') places.push(planned.at);
    }
    if (written.length === 0) {
      notify(
        say('{list} cannot be written in the list. Begin at another column.', {
          list: over.map((one) => one.label).join(', '),
        }),
      );
      return;
    }
    const records = await props.readRecords(places);
    const others = over.filter((column) => !isWritten(column)).map((column) => column.label);
    const leftOut = [
      ...(cells.length > records.length
        ? [
            say('{count} no record here from the chosen cell on. Import them to add records.', {
              count: sayCount(cells.length - records.length, '{count} row has', '{count} rows have'),
            }),
          ]
        : []),
      ...(width > over.length
        ? [
            say('{width} beyond the last one of the list.', {
              width: sayCount(width - over.length, '{count} column lies', '{count} columns lie'),
            }),
          ]
        : []),
      ...(others.length > 0
        ? [
            say('{list} {count} not written in the list.', {
              list: others.join(', '),
              count: sayCount(others.length, 'is', 'are'),
            }),
          ]
        : []),
    ];
    props.onBlock({
      what: {
        kind: 'paste',
        fields: written.map((one) => one.id),
        rows: records.map((record, row) => [record.id, written.map(({ at }) => cells[row]?.[at] ?? '')]),
      },
      leftOut,
    });
  };
  return (event: ClipboardEvent): void => {
    // What is pasted into an input is its own.
    if ((event.target as Element).closest('input:not([type="checkbox"]), textarea')) return;
    const text = event.clipboardData.getData('text/plain');
    if (text.trim() === '' || active.row < 0) return;
    event.preventDefault();
    paste(text).catch((error: Error) => notify(error.message));
  };
}
