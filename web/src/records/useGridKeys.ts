import { say } from '@fiche/core/languages';
import { type KeyboardEvent, useState } from 'react';
import { isShortcut } from '../parts/index.ts';

/** The cell that the keys are for; row -1 is the headings. */
export interface ActiveCell {
  readonly row: number;
  readonly column: number;
}

interface GridKeysProps {
  readonly rows: number;
  readonly columns: number;
  /** How many rows a page of the keyboard is. */
  readonly page: number;
  /** Brings a cell into sight. */
  show(cell: ActiveCell): void;
  /** Enter on a cell. */
  onEnter(cell: ActiveCell): void;
  /** The input of a cell is on its way: what is typed is for it. */
  readonly awaited: boolean;
  /** Escape while the input is on its way: nothing is edited. */
  onCancel?: (() => void) | undefined;
  /** A cell is to be edited: by F2, or by what was typed in it; Enter is a line feed there. */
  onEdit?: ((cell: ActiveCell, typed?: string) => void) | undefined;
  /** Space on a row; with Shift from the row that was selected last to this one. */
  onSelect?: ((row: number, range: boolean) => void) | undefined;
  onSelectAll?: (() => void) | undefined;
  /** The value above, or of this cell where rows are selected, is to go down. */
  onFillDown?: ((cell: ActiveCell) => void) | undefined;
  onUndo?: (() => void) | undefined;
  onRedo?: (() => void) | undefined;
  /** A heading is to be wider or narrower, by so many px. */
  onResize(column: number, by: number): void;
  /** A column is to move by so many places. */
  onMove?: ((column: number, by: number) => void) | undefined;
}

/** So much wider or narrower at a keystroke, in px. */
const RESIZE_STEP = 16;

const within = (place: number, least: number, count: number): number => Math.max(least, Math.min(count - 1, place));

/** Where a key leads from a cell; undefined for keys that lead nowhere. After the grid pattern of the ARIA Authoring Practices. */
export function cellAfter(
  { key, ctrlKey }: Pick<KeyboardEvent, 'key' | 'ctrlKey'>,
  { row, column }: ActiveCell,
  { rows, columns, page }: Pick<GridKeysProps, 'rows' | 'columns' | 'page'>,
): ActiveCell | undefined {
  const to = (nextRow: number, nextColumn: number): ActiveCell => ({
    row: within(nextRow, -1, rows),
    column: within(nextColumn, 0, columns),
  });
  switch (key) {
    case 'ArrowDown':
      return to(row + 1, column);
    case 'ArrowUp':
      return to(row - 1, column);
    case 'ArrowLeft':
      return to(row, column - 1);
    case 'ArrowRight':
      return to(row, column + 1);
    case 'PageDown':
      return to(row + page, column);
    case 'PageUp':
      return to(Math.max(0, row - page), column);
    case 'Home':
      return ctrlKey ? to(0, 0) : to(row, 0);
    case 'End':
      return ctrlKey ? to(rows - 1, columns - 1) : to(row, columns - 1);
    default:
      return undefined;
  }
}

/** Whether a key writes a character: the space selects a row. */
const isTyped = ({ key, ctrlKey, altKey, metaKey }: KeyboardEvent): boolean =>
  key.length === 1 && key !== ' ' && !ctrlKey && !altKey && !metaKey;

/** The keys of a grid: through its cells, and what can be done at one. */
export function useGridKeys(grid: GridKeysProps) {
  const [cell, setCell] = useState<ActiveCell>({ row: 0, column: 0 });
  const active = { row: within(cell.row, -1, grid.rows), column: within(cell.column, 0, grid.columns) };
  const onKeyDown = (event: KeyboardEvent): void => {
    // What a control within the grid does at a key is its own.
    const control = (event.target as Element).closest(say('button, input, a, [role="button"]'));
    if (control && (event.key === 'Enter' || event.key === ' ')) return;
    if (grid.awaited && event.key === 'Escape') {
      grid.onCancel?.();
      event.preventDefault();
      return;
    }
    if (grid.awaited) {
      const text = event.key === 'Enter' ? '\n' : event.key === ' ' || isTyped(event) ? event.key : undefined;
      if (text !== undefined) {
        grid.onEdit?.(active, text);
        event.preventDefault();
      }
      return;
    }
    const side = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (side !== undefined && event.shiftKey && active.row === -1) {
      if (event.ctrlKey) {
        grid.onMove?.(active.column, side);
        setCell({ ...active, column: within(active.column + side, 0, grid.columns) });
      } else grid.onResize(active.column, side * RESIZE_STEP);
    } else if (event.key === 'Enter') grid.onEnter(active);
    else if (active.row >= 0 && grid.onEdit && event.key === 'F2') grid.onEdit(active);
    else if (active.row >= 0 && grid.onEdit && isTyped(event)) grid.onEdit(active, event.key);
    else if (event.key === ' ' && active.row >= 0) grid.onSelect?.(active.row, event.shiftKey);
    else if (event.key === 'a' && event.ctrlKey && grid.onSelectAll) grid.onSelectAll();
    else if (grid.onFillDown && active.row >= 0 && isShortcut(event, 'fillDown')) grid.onFillDown(active);
    else if (grid.onUndo && isShortcut(event, 'undoRow')) grid.onUndo();
    else if (grid.onRedo && isShortcut(event, 'redoRow')) grid.onRedo();
    else {
      const next = cellAfter(event, active, grid);
      if (!next) return;
      setCell(next);
      grid.show(next);
    }
    event.preventDefault();
  };
  return { active, setActive: setCell, onKeyDown };
}
