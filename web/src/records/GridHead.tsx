import { closestCenter, DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { horizontalListSortingStrategy, SortableContext, useSortable } from '@dnd-kit/sortable';
import { isSortable, type Listing } from '@fiche/core/views';
import TableSortLabel from '@mui/material/TableSortLabel';
import { clsx } from 'clsx';
import type { CSSProperties, ReactNode } from 'react';
import { textCss } from '../parts/index.ts';
import gridCss from './grid.module.css';
import { isNumber } from './gridCells.ts';
import type { DrawnColumn } from './useGridColumns.ts';

interface HeadProps {
  readonly columns: readonly DrawnColumn[];
  readonly sort: Listing['sort'];
  readonly hidden: boolean;
  readonly style: CSSProperties;
  /** The box that selects all records. */
  readonly select: ReactNode;
  /** The column whose heading the keys are for. */
  readonly active: number | undefined;
  onSort(path: string): void;
  onMove?: ((from: number, to: number) => void) | undefined;
}

/** The names of the columns: a click sorts, dragging moves, and their right edges make them wider or narrower. */
export function GridHead({ columns, sort, hidden, style, select, active, onSort, onMove }: HeadProps) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const onDragEnd = ({ active: from, over }: DragEndEvent): void => {
    const placeOf = (path: unknown): number | undefined => columns.find((one) => one.column.path === path)?.at;
    const [start, end] = [placeOf(from.id), placeOf(over?.id)];
    if (start !== undefined && end !== undefined && start !== end) onMove?.(start, end);
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={onDragEnd}
      // What it says to screen readers stands outside of the grid, which has rows only.
      accessibility={{ container: document.body }}
    >
      <SortableContext items={columns.map((one) => one.column.path)} strategy={horizontalListSortingStrategy}>
        <div
          className={clsx(gridCss.head, hidden && textCss.visuallyHidden)}
          role="row"
          aria-rowindex={1}
          style={hidden ? undefined : style}
          tabIndex={-1}
        >
          {select}
          {columns.map((one) => (
            <Heading
              key={one.column.path}
              drawn={one}
              direction={sort.find(({ path }) => path === one.column.path)?.direction}
              active={active === one.at}
              movable={onMove !== undefined}
              onSort={onSort}
            />
          ))}
        </div>
      </SortableContext>
    </DndContext>
  );
}

interface HeadingProps {
  readonly drawn: DrawnColumn;
  readonly direction: 'up' | 'down' | undefined;
  readonly active: boolean;
  readonly movable: boolean;
  onSort(path: string): void;
}

function Heading({ drawn: { column, at, header, stays, track }, direction, active, movable, onSort }: HeadingProps) {
  const { setNodeRef, listeners, transform, isDragging } = useSortable({ id: column.path, disabled: !movable });
  const resize = header.getResizeHandler();
  return (
    <div
      ref={setNodeRef}
      id={`head-${at}`}
      role="columnheader"
      tabIndex={-1}
      aria-colindex={at + 1}
      aria-sort={direction === undefined ? 'none' : direction === 'up' ? 'ascending' : 'descending'}
      className={clsx(isNumber(column) && gridCss.numeric, stays !== undefined && gridCss.stays, active && gridCss.at)}
      style={{
        gridColumn: track,
        left: stays,
        transform: transform ? `translateX(${transform.x}px)` : undefined,
        zIndex: isDragging ? 5 : undefined,
      }}
      {...listeners}
    >
      {isSortable(column) ? (
        <TableSortLabel
          tabIndex={-1}
          active={direction !== undefined}
          direction={direction === 'down' ? 'desc' : 'asc'}
          onClick={() => onSort(column.path)}
        >
          {column.label}
        </TableSortLabel>
      ) : (
        column.label
      )}
      <span
        className={clsx(gridCss.edge, header.column.getIsResizing() && gridCss.dragged)}
        role="presentation"
        // The heading itself is not dragged by its edge.
        onPointerDown={(event) => event.stopPropagation()}
        onMouseDown={resize}
        onTouchStart={resize}
      />
    </div>
  );
}
