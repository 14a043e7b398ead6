import type { ListedGroup, ListedRecord } from '@fiche/core/api';
import { formatCount } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import { columnAt, type KnownColumn, type Listing } from '@fiche/core/views';
import OpenIcon from '@mui/icons-material/ArrowDropDown';
import ClosedIcon from '@mui/icons-material/ArrowRight';
import Checkbox from '@mui/material/Checkbox';
import useMediaQuery from '@mui/material/useMediaQuery';
import { clsx } from 'clsx';
import { type CSSProperties, type MouseEvent, useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { pageCss, textCss } from '../parts/index.ts';
import { GridHead } from './GridHead.tsx';
import gridCss from './grid.module.css';
import { cardColumns, cell, cellClass, groupTitle, summariesUnder } from './gridCells.ts';
import { planRows } from './rowPlan.ts';
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
}

/** The rows in sight, walked by arrow keys cell by cell, and opened by Enter or a click; on a phone each is a small card. */
export function GridRows(props: GridRowsProps) {
  const { table, path, columns, listing, total, groups, foot, fills, selecting, recordAt, onSight, onSort } = props;
  const navigate = useNavigate();
  const { tables } = useOffice();
  const phone = useMediaQuery('(max-width: 700px)');
  const box = useRef<HTMLDivElement>(null);
  const before = selecting && !phone ? SELECTING : 0;
  const { plan, isOpen, toggle } = useGroups(total, groups, listing.group);
  const { rows, drawnHeight, topOf } = useGridRows({ box, count: plan.count, height: phone ? PHONE_ROW : ROW });
  const across = useGridColumns({ box, columns, listing, foot, before, onWidths: props.onWidths });
  const shown = rows.getVirtualItems();
  const [first, end] = [shown[0]?.index ?? 0, shown.at(-1)?.index ?? 0];
  const sight = { first: plan.recordNear(first), last: plan.recordNear(end), moving: rows.isScrolling };
  useEffect(() => onSight(sight));
  const { select, selectTo } = useSelecting(selecting, recordAt);
  const recordOfRow = (row: number): ListedRecord | undefined => {
    const planned = row < 0 ? undefined : plan.rowAt(row);
    return planned?.kind === 'record' ? recordAt(planned.at) : undefined;
  };
  const keys = useGridKeys({
    rows: plan.count,
    columns: columns.length,
    page: Math.max(1, Math.floor((box.current?.clientHeight ?? 0) / ROW) - 2),
    show({ row, column }) {
      if (row >= 0) rows.scrollToIndex(row);
      across.show(column);
    },
    onEnter({ row, column }) {
      const record = recordOfRow(row);
      const heading = columns[column];
      const planned = row < 0 ? undefined : plan.rowAt(row);
      if (row < 0 && heading) onSort(heading.path);
      else if (planned?.kind === 'group') toggle(planned.group);
      else if (record) navigate(`${path}/${record.id}${props.search}`);
    },
    onSelect:
      selecting &&
      ((row, range) => {
        const planned = plan.rowAt(row);
        if (planned.kind === 'record') selectTo(planned.at, range);
      }),
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
  const active = drawn && row >= 0 ? plan.rowAt(row) : undefined;
  const activeRecord = drawn ? recordOfRow(row) : undefined;
  const activeCell =
    active?.kind === 'group' ? `group-${active.group}` : activeRecord && cellId(activeRecord.id, column);
  return (
    <div
      className={clsx(gridCss.grid, fills && gridCss.fills, pageCss.listCard)}
      role="grid"
      aria-label={table.label}
      aria-rowcount={plan.count + 1}
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
          const planned = plan.rowAt(index);
          const record = recordOfRow(index);
          const place = { transform: `translateY(${topOf(start)}px)`, height: size };
          const group = planned.kind === 'group' ? groups?.[planned.group] : undefined;
          if (planned.kind === 'group' && group)
            return (
              <GroupRow
                key={`group ${planned.group}`}
                id={`group-${planned.group}`}
                {...{ group, index, phone }}
                title={groupTitle(group, columnAt(tables, table.id, listing.group ?? ''))}
                subtotals={summariesUnder(listing, columns, group.summaries)}
                columns={across.drawn}
                style={phone ? place : { ...across.style, ...place }}
                open={isOpen(planned.group)}
                active={index === row}
                onToggle={() => {
                  keys.setActive({ row: index, column: 0 });
                  toggle(planned.group);
                }}
              />
            );
          if (planned.kind === 'group' || !record)
            return <RowToCome key={`to come ${index}`} style={place} index={index} />;
          return (
            <GridRow
              key={record.id}
              {...{ record, index, phone }}
              columns={phone ? cardColumns(columns, record) : across.drawn}
              style={phone ? place : { ...across.style, ...place }}
              active={index === row ? column : undefined}
              selected={selecting && isSelected(selecting.selection, record.id)}
              onSelect={before > 0 ? (range) => (range ? selectTo(planned.at, true) : select(planned.at)) : undefined}
              onOpen={(at) => {
                // Until the card is there, the keys are for the record that was clicked.
                keys.setActive({ row: index, column: at });
                navigate(`${path}/${record.id}${props.search}`);
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

/** Which groups are open, and the rows that follow from it. All are open at first, and again when the list is grouped otherwise. */
function useGroups(total: number, groups: readonly ListedGroup[] | null, by: string | null) {
  const [kept, setKept] = useState<{ readonly by: string | null; readonly closed: ReadonlySet<number> }>();
  const closed: ReadonlySet<number> = kept?.by === by ? kept.closed : new Set();
  return {
    plan: planRows(total, groups, closed),
    isOpen: (group: number): boolean => !closed.has(group),
    toggle(group: number): void {
      const next = new Set(closed);
      if (!next.delete(group)) next.add(group);
      setKept({ by, closed: next });
    },
  };
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

interface GroupRowProps {
  readonly id: string;
  readonly group: ListedGroup;
  readonly title: string;
  /** What stands under the columns for this group, by path. */
  readonly subtotals: ReadonlyMap<string, string>;
  readonly columns: readonly DrawnColumn[];
  /** Its row among all rows, from 0. */
  readonly index: number;
  readonly phone: boolean;
  readonly style: CSSProperties;
  readonly open: boolean;
  readonly active: boolean;
  onToggle(): void;
}

/** The head of a group: what its records share, how many there are, and their summaries. A click closes and opens it. */
function GroupRow({
  id,
  group,
  title,
  subtotals,
  columns,
  index,
  phone,
  style,
  open,
  active,
  onToggle,
}: GroupRowProps) {
  const [firstSummed] = columns.filter(({ column }) => subtotals.has(column.path));
  return (
    <div
      role="row"
      tabIndex={-1}
      aria-rowindex={index + 2}
      aria-expanded={open}
      className={clsx(gridCss.row, gridCss.group, active && gridCss.active)}
      style={style}
      onClick={onToggle}
    >
      <div
        id={id}
        role="gridcell"
        tabIndex={-1}
        className={clsx(gridCss.groupTitle, active && gridCss.at)}
        style={phone ? undefined : { gridColumn: `1 / ${Math.max(3, firstSummed?.track ?? -1)}` }}
      >
        {open ? <OpenIcon /> : <ClosedIcon />}
        {title} <span className={textCss.faded}>· {formatCount(group.count)}</span>
      </div>
      {columns
        .filter(({ column }) => subtotals.has(column.path))
        .map(({ column, track }) => (
          <div
            key={column.path}
            role="gridcell"
            tabIndex={-1}
            className={cellClass(column)}
            style={phone ? undefined : { gridColumn: track }}
          >
            {phone && <span className={gridCss.cellLabel}>{column.label}</span>}
            {subtotals.get(column.path)}
          </div>
        ))}
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
