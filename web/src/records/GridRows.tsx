import type { ListedRecord } from '@fiche/core/api';
import type { TableDefinition } from '@fiche/core/tables';
import type { KnownColumn, Listing } from '@fiche/core/views';
import Checkbox from '@mui/material/Checkbox';
import useMediaQuery from '@mui/material/useMediaQuery';
import { clsx } from 'clsx';
import { type CSSProperties, type MouseEvent, useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router-dom';
import { pageCss } from '../parts/index.ts';
import { GridHead } from './GridHead.tsx';
import gridCss from './grid.module.css';
import { cardColumns, cell, cellClass } from './gridCells.ts';
import {
  ALL_SELECTED,
  countSelected,
  isSelected,
  NOTHING_SELECTED,
  type Selection,
  withSelected,
} from './selection.ts';
import { type DrawnColumn, useGridColumns } from './useGridColumns.ts';
import { useGridKeys } from './useGridKeys.ts';
import { useGridRows } from './useGridRows.ts';
import type { Sight } from './useRecords.ts';

const ROW = 29;
const PHONE_ROW = 84;
/** Room for the box that selects a row, in px. */
const SELECTING = 34;

/** Which records are selected, and what becomes of that; a grid without it selects none. */
export interface Selecting {
  readonly selection: Selection;
  onSelect(selection: Selection): void;
}

interface GridRowsProps {
  readonly table: TableDefinition;
  readonly path: string;
  readonly columns: readonly KnownColumn[];
  readonly listing: Listing;
  readonly total: number;
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
}

/** The rows in sight, walked by arrow keys cell by cell, and opened by Enter or a click; on a phone each is a small card. */
export function GridRows(props: GridRowsProps) {
  const { table, path, columns, listing, total, foot, fills, selecting, recordAt, onSight, onSort } = props;
  const navigate = useNavigate();
  const phone = useMediaQuery('(max-width: 700px)');
  const box = useRef<HTMLDivElement>(null);
  const before = selecting && !phone ? SELECTING : 0;
  const { rows, drawnHeight, topOf } = useGridRows({ box, count: total, height: phone ? PHONE_ROW : ROW });
  const across = useGridColumns({ box, columns, listing, foot, before, onWidths: props.onWidths });
  const shown = rows.getVirtualItems();
  const sight = { first: shown[0]?.index ?? 0, last: shown.at(-1)?.index ?? 0, moving: rows.isScrolling };
  useEffect(() => onSight(sight));
  const { select, selectTo } = useSelecting(selecting, recordAt);
  const keys = useGridKeys({
    rows: total,
    columns: columns.length,
    page: Math.max(1, Math.floor((box.current?.clientHeight ?? 0) / ROW) - 2),
    show({ row, column }) {
      if (row >= 0) rows.scrollToIndex(row);
      across.show(column);
    },
    onEnter({ row, column }) {
      const record = recordAt(row);
      const heading = columns[column];
      if (row < 0 && heading) onSort(heading.path);
      else if (record) navigate(`${path}/${record.id}`);
    },
    onSelect: selecting && selectTo,
    onSelectAll: selecting && (() => selecting.onSelect(ALL_SELECTED)),
    onResize(column, by) {
      const heading = columns[column];
      if (heading) props.onWidths({ [heading.path]: across.widthOf(heading.path) + by });
    },
    onMove: props.onMove && ((column, by) => props.onMove?.(column, column + by)),
  });
  const { row, column } = keys.active;
  // A cell that is scrolled out of sight is not drawn: it cannot be named.
  const drawn = shown.some(({ index }) => index === row) && (phone || across.drawn.some(({ at }) => at === column));
  const activeRecord = drawn ? recordAt(row) : undefined;
  const activeCell = activeRecord && cellId(activeRecord.id, column);
  return (
    <div
      className={clsx(gridCss.grid, fills && gridCss.fills, pageCss.listCard)}
      role="grid"
      aria-label={table.label}
      aria-rowcount={total + 1}
      aria-colcount={columns.length}
      aria-multiselectable={selecting ? true : undefined}
      tabIndex={0}
      onKeyDown={keys.onKeyDown}
      ref={box}
      aria-activedescendant={row < 0 ? `head-${column}` : activeCell}
    >
      <GridHead
        columns={across.drawn}
        sort={listing.sort}
        hidden={phone}
        style={across.style}
        select={before > 0 && selecting && <SelectAll selecting={selecting} total={total} />}
        active={row < 0 ? column : undefined}
        onSort={onSort}
        onMove={props.onMove}
      />
      <div
        role="presentation"
        style={{ height: drawnHeight, position: 'relative', minWidth: phone ? undefined : across.totalWidth }}
      >
        {shown.map(({ index, start, size }) => {
          const record = recordAt(index);
          const place = { transform: `translateY(${topOf(start)}px)`, height: size };
          if (!record) return <RowToCome key={`to come ${index}`} style={place} index={index} />;
          return (
            <GridRow
              key={record.id}
              {...{ record, index, phone }}
              columns={phone ? cardColumns(columns, record) : across.drawn}
              style={phone ? place : { ...across.style, ...place }}
              active={index === row ? column : undefined}
              selected={selecting && isSelected(selecting.selection, record.id)}
              onSelect={before > 0 ? (range) => (range ? selectTo(index, true) : select(index)) : undefined}
              onOpen={(at) => {
                // Until the card is there, the keys are for the record that was clicked.
                keys.setActive({ row: index, column: at });
                navigate(`${path}/${record.id}`);
              }}
            />
          );
        })}
      </div>
      {foot.size > 0 && (
        <Foot
          columns={phone ? columns.filter((one) => foot.has(one.path)) : across.drawn}
          foot={foot}
          phone={phone}
          style={across.style}
        />
      )}
    </div>
  );
}

const cellId = (record: number, column: number): string => `cell-${record}-${column}`;

/** Selects rows by their place, one by one or from the last one to another. */
function useSelecting(selecting: Selecting | undefined, recordAt: GridRowsProps['recordAt']) {
  const [last, setLast] = useState<number>();
  const select = (at: number): void => {
    const record = recordAt(at);
    if (!selecting || !record) return;
    setLast(at);
    selecting.onSelect(withSelected(selecting.selection, [record.id], !isSelected(selecting.selection, record.id)));
  };
  const selectTo = (at: number, range: boolean): void => {
    if (!range || last === undefined) {
      select(at);
      return;
    }
    const [from, to] = [Math.min(last, at), Math.max(last, at)];
    const ids = Array.from({ length: to - from + 1 }, (_, step) => recordAt(from + step)?.id ?? 0).filter(Boolean);
    if (selecting) selecting.onSelect(withSelected(selecting.selection, ids, true));
    setLast(at);
  };
  return { select, selectTo };
}

function SelectAll({ selecting: { selection, onSelect }, total }: { selecting: Selecting; total: number }) {
  const count = countSelected(selection, total);
  return (
    <div role="columnheader" tabIndex={-1} className={clsx(gridCss.select, gridCss.stays)}>
      <Checkbox
        checked={total > 0 && count === total}
        indeterminate={count > 0 && count < total}
        slotProps={{ input: { 'aria-label': 'Select all records that are found', tabIndex: -1 } }}
        onChange={() => onSelect(count === total ? NOTHING_SELECTED : ALL_SELECTED)}
      />
    </div>
  );
}

interface GridRowProps {
  readonly record: ListedRecord;
  /** Its place in the list, from 0. */
  readonly index: number;
  readonly columns: readonly DrawnColumn[] | readonly KnownColumn[];
  readonly phone: boolean;
  readonly style: CSSProperties;
  /** The column of the cell that the keys are for; undefined for a row that they are not for. */
  readonly active: number | undefined;
  readonly selected: boolean | undefined;
  readonly onSelect: ((range: boolean) => void) | undefined;
  onOpen(column: number): void;
}

const isDrawn = (column: DrawnColumn | KnownColumn): column is DrawnColumn => 'header' in column;

function GridRow({ record, index, columns, phone, style, active, selected, onSelect, onOpen }: GridRowProps) {
  return (
    <div
      role="row"
      tabIndex={-1}
      aria-rowindex={index + 2}
      aria-selected={selected}
      className={clsx(gridCss.row, active !== undefined && gridCss.active, selected && gridCss.selected)}
      style={style}
    >
      {onSelect && (
        <div
          role="gridcell"
          tabIndex={-1}
          className={clsx(gridCss.select, gridCss.stays)}
          onClick={(event: MouseEvent) => onSelect(event.shiftKey)}
        >
          <Checkbox
            checked={selected === true}
            slotProps={{ input: { 'aria-label': `Select ${record.title}`, tabIndex: -1, readOnly: true } }}
          />
        </div>
      )}
      {columns.map((one, place) => {
        const column = isDrawn(one) ? one.column : one;
        const at = isDrawn(one) ? one.at : place;
        const stays = isDrawn(one) ? one.stays : undefined;
        return (
          <div
            key={column.path}
            id={cellId(record.id, at)}
            role="gridcell"
            tabIndex={-1}
            aria-colindex={at + 1}
            className={clsx(cellClass(column), stays !== undefined && gridCss.stays, at === active && gridCss.at)}
            style={isDrawn(one) ? { gridColumn: one.track, left: stays } : undefined}
            onClick={() => onOpen(at)}
          >
            {phone && <span className={gridCss.cellLabel}>{column.label}</span>}
            {cell(record, column)}
          </div>
        );
      })}
    </div>
  );
}

/** A row whose record is being read. */
function RowToCome({ index, style }: { index: number; style: CSSProperties }) {
  return (
    <div role="row" tabIndex={-1} aria-rowindex={index + 2} className={clsx(gridCss.row, gridCss.toCome)} style={style}>
      <div role="gridcell" tabIndex={-1}>
        …
      </div>
    </div>
  );
}

interface FootProps {
  readonly columns: readonly DrawnColumn[] | readonly KnownColumn[];
  readonly foot: ReadonlyMap<string, string>;
  readonly phone: boolean;
  readonly style: CSSProperties;
}

/** The summaries under their columns; on a phone as a card of their own. */
function Foot({ columns, foot, phone, style }: FootProps) {
  return (
    <div className={gridCss.foot} role="row" style={phone ? {} : style} tabIndex={-1}>
      {columns.map((one) => {
        const column = isDrawn(one) ? one.column : one;
        const stays = isDrawn(one) && one.stays !== undefined;
        return (
          <div
            key={column.path}
            role="gridcell"
            tabIndex={-1}
            className={clsx(cellClass(column), stays && gridCss.stays)}
            style={isDrawn(one) ? { gridColumn: one.track, left: one.stays } : undefined}
          >
            {phone && <span className={gridCss.cellLabel}>{column.label}</span>}
            {foot.get(column.path)}
          </div>
        );
      })}
    </div>
  );
}
