import { say } from '@fiche/core/languages';
import { columnAt, groupTitle, summariesUnder } from '@fiche/core/views';
import Checkbox from '@mui/material/Checkbox';
import { clsx } from 'clsx';
import type { CSSProperties } from 'react';
import { useOffice } from '../client/index.ts';
import { pageCss } from '../parts/index.ts';
import { CellEditor } from './CellEditor.tsx';
import { GridFoot } from './GridFoot.tsx';
import { GridHead } from './GridHead.tsx';
import { cellId, GridRow, RowToCome } from './GridRow.tsx';
import { GroupRow } from './GroupRow.tsx';
import gridCss from './grid.module.css';
import { cardColumns } from './gridCells.ts';
import { ALL_SELECTED, countSelected, isSelected, NOTHING_SELECTED } from './selection.ts';
import { type GridProps, useGrid } from './useGrid.ts';
import type { Selecting } from './useSelecting.ts';

/** The rows in sight, walked by arrow keys cell by cell, and opened by Enter or a click; on a phone each is a small card. */
export function GridRows(props: GridProps) {
  const { table, columns, listing, total, foot, fills, selecting, onSort, onMove } = props;
  const grid = useGrid(props);
  const { phone, box, before, plan, down, across, shown, keys } = grid;
  const { row, column } = keys.active;
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
      onPaste={grid.onPaste}
      ref={box}
      aria-activedescendant={activeId(grid)}
    >
      <GridHead
        columns={across.drawn}
        sort={listing.sort}
        hidden={phone}
        style={across.style}
        select={before > 0 && selecting && <SelectAll selecting={selecting} total={total} />}
        active={row < 0 ? column : undefined}
        onSort={onSort}
        onMove={onMove}
      />
      <div
        role="presentation"
        style={{ height: down.drawnHeight, position: 'relative', minWidth: phone ? undefined : across.totalWidth }}
      >
        {shown.map(({ index, start, size }) => (
          <DrawnRow
            key={grid.recordOfRow(index)?.id ?? `row ${index}`}
            {...{ props, grid, index }}
            place={{ transform: `translateY(${down.topOf(start)}px)`, height: size }}
          />
        ))}
      </div>
      <EditedCell props={props} grid={grid} />
      {foot.size > 0 && (
        <GridFoot
          columns={phone ? columns.filter((one) => foot.has(one.path)) : across.drawn}
          foot={foot}
          phone={phone}
          style={across.style}
        />
      )}
    </div>
  );
}

/** The id of the cell that the keys are for; undefined for one that is scrolled out of sight, and so not drawn. */
function activeId({ phone, plan, across, shown, recordOfRow, keys }: ReturnType<typeof useGrid>): string | undefined {
  const { row, column } = keys.active;
  if (row < 0) return `head-${column}`;
  const drawn = shown.some(({ index }) => index === row) && (phone || across.drawn.some(({ at }) => at === column));
  if (!drawn) return undefined;
  const planned = plan.rowAt(row);
  const record = recordOfRow(row);
  return planned.kind === 'group' ? `group-${planned.group}` : record && cellId(record.id, column);
}

/** The input over the cell that is edited. */
function EditedCell({ props, grid }: Pick<DrawnRowProps, 'props' | 'grid'>) {
  const { edited, recordOfRow, onStep } = grid;
  const record = edited && recordOfRow(edited.row);
  const path = edited && props.columns[edited.column]?.path;
  if (!edited || !record || path === undefined) return null;
  return (
    <CellEditor
      table={props.table}
      record={record.id}
      field={path}
      typed={edited.typed}
      turn={edited.turn}
      cell={cellId(record.id, edited.column)}
      onSaved={grid.steps.saved}
      onStep={onStep}
    />
  );
}

interface DrawnRowProps {
  readonly props: GridProps;
  readonly grid: ReturnType<typeof useGrid>;
  /** Its row among all rows, from 0. */
  readonly index: number;
  readonly place: CSSProperties;
}

/** A row in sight: the head of a group, a record, or one that is being read. */
function DrawnRow({ props, grid, index, place }: DrawnRowProps) {
  const { tables } = useOffice();
  const { table, columns, listing, groups, selecting } = props;
  const { phone, plan, isOpen, toggle, across, select, selectTo, recordOfRow, open, edit, keys } = grid;
  const planned = plan.rowAt(index);
  const record = recordOfRow(index);
  const { row, column } = keys.active;
  const style = phone ? place : { ...across.style, ...place };
  const group = planned.kind === 'group' ? groups?.[planned.group] : undefined;
  if (planned.kind === 'group' && group)
    return (
      <GroupRow
        id={`group-${planned.group}`}
        {...{ group, index, phone, style }}
        title={groupTitle(group, columnAt(tables, table.id, listing.group ?? ''))}
        subtotals={summariesUnder(listing, columns, group.summaries)}
        columns={across.drawn}
        open={isOpen(planned.group)}
        active={index === row}
        onToggle={() => {
          keys.setActive({ row: index, column: 0 });
          toggle(planned.group);
        }}
      />
    );
  if (planned.kind === 'group' || !record) return <RowToCome style={place} index={index} />;
  return (
    <GridRow
      {...{ record, index, phone, style }}
      columns={phone ? cardColumns(columns, record) : across.drawn}
      active={index === row ? column : undefined}
      beside={props.cardBeside?.record === record.id}
      selected={selecting && isSelected(selecting.selection, record.id)}
      onSelect={selecting ? (range) => (range ? selectTo(planned.at, true) : select(planned.at)) : undefined}
      onOpen={(at) => {
        // Until the card is there, the keys are for the record that was clicked.
        keys.setActive({ row: index, column: at });
        if (props.editing?.byClick) edit({ row: index, column: at });
        else open(record);
      }}
    />
  );
}

function SelectAll({ selecting: { selection, onSelect }, total }: { selecting: Selecting; total: number }) {
  const count = countSelected(selection, total);
  return (
    <div role="columnheader" tabIndex={-1} className={clsx(gridCss.select, gridCss.stays)}>
      <Checkbox
        checked={total > 0 && count === total}
        indeterminate={count > 0 && count < total}
        slotProps={{ input: { 'aria-label': say('Select all records that are found'), tabIndex: -1 } }}
        onChange={() => onSelect(count === total ? NOTHING_SELECTED : ALL_SELECTED)}
      />
    </div>
  );
}
