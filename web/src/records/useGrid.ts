import type { ListedGroup, ListedRecord } from '@fiche/core/api';
import type { Value } from '@fiche/core/fields';
import type { FieldId, RecordId, TableDefinition } from '@fiche/core/tables';
import type { KnownColumn, Listing } from '@fiche/core/views';
import useMediaQuery from '@mui/material/useMediaQuery';
import { type RefObject, useEffect, useRef } from 'react';
import { useNavigate } from 'react-router-dom';
import type { EditStep } from './CellEditor.tsx';
import { ALL_SELECTED, countSelected } from './selection.ts';
import { useCellEditing } from './useCellEditing.ts';
import { useGridColumns } from './useGridColumns.ts';
import { type ActiveCell, useGridKeys } from './useGridKeys.ts';
import { useGridRows } from './useGridRows.ts';
import { useGroups } from './useGroups.ts';
import { useLiveRows } from './useLiveRows.ts';
import { type PastedBlock, usePastedRows } from './usePastedRows.ts';
import type { Sight } from './useRecords.ts';
import { useRowSteps } from './useRowSteps.ts';
import { type Selecting, useSelecting } from './useSelecting.ts';

const ROW = 29;
const PHONE_ROW = 84;
/** Room for the box that selects a row, in px. */
const SELECTING = 34;

/** How records are changed in a list. */
export interface GridEditing {
  readonly byClick: boolean;
  /** A block was pasted: it is shown before it is written. */
  onBlock(block: PastedBlock): void;
  /** A field becomes a value in all records that are selected, so many. */
  onFill(field: FieldId, value: Value, count: number): void;
}

export interface GridProps {
  readonly table: TableDefinition;
  readonly path: string;
  /** What stands behind the address of every card. */
  readonly search: string;
  readonly columns: readonly KnownColumn[];
  readonly listing: Listing;
  readonly total: number;
  /** The groups of a list that is grouped, in order. */
  readonly groups: readonly ListedGroup[] | null;
  /** What stands under the columns, by path; empty where no column has a summary. */
  readonly foot: ReadonlyMap<string, string>;
  readonly fills: boolean;
  readonly selecting: Selecting | undefined;
  /** The record at a place from 0; undefined while it is being read. */
  recordAt(at: number): ListedRecord | undefined;
  onSight(sight: Sight): void;
  onSort(path: string): void;
  onWidths(widths: Readonly<Record<string, number>>): void;
  onMove?: ((from: number, to: number) => void) | undefined;
  /** A card stands beside the list and follows its rows; `show` opens that of a record, and takes the focus there where that is wanted. */
  readonly cardBeside?: { readonly record: number | undefined; show(record: number, focus: boolean): void } | undefined;
  /** Reads the records at some places of the list, also those that are not in sight. */
  readRecords(places: readonly number[]): Promise<readonly ListedRecord[]>;
  /** Records are changed in the list: by F2 and typing or, where a click edits, by a click and Enter as well. */
  readonly editing?: GridEditing | undefined;
}

/** What a grid does: which rows and columns are in sight, where the keys are, what they and the mouse do. */
export function useGrid(props: GridProps) {
  const { path, search, columns, listing, total, groups, foot, selecting, recordAt, onSight } = props;
  const { cardBeside } = props;
  const navigate = useNavigate();
  const phone = useMediaQuery('(max-width: 700px)');
  const box = useRef<HTMLDivElement>(null);
  /** The width of the boxes that select, in px; none on a phone. */
  const before = selecting && !phone ? SELECTING : 0;
  const { plan, isOpen, toggle } = useGroups(total, groups, listing.group);
  const down = useGridRows({ box, count: plan.count, height: phone ? PHONE_ROW : ROW });
  const across = useGridColumns({ box, columns, listing, foot, before, onWidths: props.onWidths });
  const shown = down.rows.getVirtualItems();
  const [first, last] = [shown[0]?.index ?? 0, shown.at(-1)?.index ?? 0];
  const sight = { first: plan.recordNear(first), last: plan.recordNear(last), moving: down.rows.isScrolling };
  useEffect(() => onSight(sight));
  const { select, selectTo } = useSelecting(selecting, recordAt);
  const recordOfRow = (row: number): ListedRecord | undefined => {
    const planned = row < 0 ? undefined : plan.rowAt(row);
    return planned?.kind === 'record' ? recordAt(planned.at) : undefined;
  };
  const steps = useRowSteps(props.table.id);
  const { edited, edit, step, fillFromAbove } = useCellEditing(
    { table: props.table, columns, allowed: props.editing !== undefined, steps },
    recordOfRow,
  );
  useLiveRows(props.table.id, edited !== undefined);
  const open = ({ id }: ListedRecord, focus = false): void =>
    cardBeside ? cardBeside.show(id, focus) : void navigate(`${path}/${id}${search}`);
  const keys = useGridKeys({
    rows: plan.count,
    columns: columns.length,
    page: Math.max(1, Math.floor((box.current?.clientHeight ?? 0) / ROW) - 2),
    awaited: edited !== undefined,
    onCancel: () => step('nowhere'),
    ...keyActsOf(props, { plan, toggle, down, across, edit, fillFromAbove, steps, selectTo, recordOfRow, open }),
  });
  const { editing } = props;
  const onPaste = usePastedRows(
    {
      table: props.table,
      columns,
      rows: plan.count,
      rowAt: plan.rowAt,
      readRecords: props.readRecords,
      onText: (text) => edit(keys.active, text),
      onBlock: (block) => editing?.onBlock(block),
    },
    keys.active,
  );
  useCardThatFollows(cardBeside, recordOfRow(keys.active.row)?.id, box);
  const onStep = (to: EditStep): void => {
    const next = step(to);
    if (next) {
      keys.setActive(next);
      down.rows.scrollToIndex(next.row);
      across.show(next.column);
    }
    // Until the input of the next cell is there, keys are for the grid.
    box.current?.focus();
  };
  return {
    edited,
    edit,
    onStep,
    phone,
    box,
    before,
    plan,
    isOpen,
    toggle,
    down,
    across,
    shown,
    select,
    selectTo,
    recordOfRow,
    open,
    keys,
    steps,
    onPaste: editing && onPaste,
  };
}

/** What the keys of a grid act on. */
interface Acting
  extends Pick<ReturnType<typeof useGroups>, 'plan' | 'toggle'>,
    Pick<ReturnType<typeof useCellEditing>, 'edit' | 'fillFromAbove'>,
    Pick<ReturnType<typeof useSelecting>, 'selectTo'> {
  readonly down: ReturnType<typeof useGridRows>;
  readonly across: ReturnType<typeof useGridColumns>;
  readonly steps: ReturnType<typeof useRowSteps>;
  recordOfRow(row: number): ListedRecord | undefined;
  open(record: ListedRecord, focus: boolean): void;
}

/** What each key does with the cell that it is pressed in. */
function keyActsOf(props: GridProps, on: Acting) {
  const { columns, total, selecting, editing, onSort, onMove } = props;
  const { plan, toggle, down, across, edit, fillFromAbove, steps, selectTo, recordOfRow, open } = on;
  return {
    show({ row, column }: ActiveCell): void {
      if (row >= 0) down.rows.scrollToIndex(row);
      across.show(column);
    },
    onEnter({ row, column }: ActiveCell): void {
      const record = recordOfRow(row);
      const heading = columns[column];
      const planned = row < 0 ? undefined : plan.rowAt(row);
      if (row < 0 && heading) onSort(heading.path);
      else if (planned?.kind === 'group') toggle(planned.group);
      else if (record && editing?.byClick) edit({ row, column });
      else if (record) open(record, true);
    },
    onEdit: editing && edit,
    onSelect:
      selecting &&
      ((row: number, range: boolean): void => {
        const planned = plan.rowAt(row);
        if (planned.kind === 'record') selectTo(planned.at, range);
      }),
    ...(editing
      ? {
          onFillDown: (cell: ActiveCell): void => {
            const count = selecting ? countSelected(selecting.selection, total) : 0;
            const record = recordOfRow(cell.row);
            const path = columns[cell.column]?.path;
            if (count > 1 && record && path !== undefined) editing.onFill(path, record.values[path] ?? null, count);
            else fillFromAbove(cell);
          },
          onUndo: steps.undo,
          onRedo: steps.redo,
        }
      : {}),
    onSelectAll: selecting && (() => selecting.onSelect(ALL_SELECTED)),
    onResize(column: number, by: number): void {
      const heading = columns[column];
      if (heading) props.onWidths({ [heading.path]: across.widthOf(heading.path) + by });
    },
    onMove: onMove && ((column: number, by: number) => onMove(column, column + by)),
  };
}

/** The keys rest on a row for so long before its card is read, in ms. */
const REST = 200;

/** Lets the card beside a list follow the row that the keys are for, once they rest there. */
function useCardThatFollows(
  cardBeside: GridProps['cardBeside'],
  record: RecordId | undefined,
  box: RefObject<HTMLElement | null>,
): void {
  const latest = useRef(cardBeside);
  latest.current = cardBeside;
  const on = cardBeside !== undefined;
  useEffect(() => {
    // Only where somebody is at the list: the card itself goes on to other records without it.
    if (!on || record === undefined || !box.current?.contains(document.activeElement)) return;
    const timer = setTimeout(() => latest.current?.record !== record && latest.current?.show(record, false), REST);
    return () => clearTimeout(timer);
  }, [on, record, box]);
}
