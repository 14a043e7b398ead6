import type { ListedRecord } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { type KnownColumn, listedText } from '@fiche/core/views';
import Checkbox from '@mui/material/Checkbox';
import { clsx } from 'clsx';
import type { CSSProperties, MouseEvent } from 'react';
import gridCss from './grid.module.css';
import { cellClass } from './gridCells.ts';
import { type DrawnColumn, isDrawn } from './useGridColumns.ts';

/** The id of a cell, by which the grid says which one the keys are for. */
export const cellId = (record: number, column: number): string => `cell-${record}-${column}`;

interface GridRowProps {
  readonly record: ListedRecord;
  /** Its place in the list, from 0. */
  readonly index: number;
  readonly columns: readonly DrawnColumn[] | readonly KnownColumn[];
  readonly phone: boolean;
  readonly style: CSSProperties;
  /** The column of the cell that the keys are for; undefined for a row that they are not for. */
  readonly active: number | undefined;
  /** Whether its card stands beside the list. */
  readonly beside: boolean;
  readonly selected: boolean | undefined;
  readonly onSelect: ((range: boolean) => void) | undefined;
  onOpen(column: number): void;
}

/** A record as a row of cells, or on a phone as a small card. */
export function GridRow(props: GridRowProps) {
  const { record, index, columns, phone, style, active, beside, selected, onSelect, onOpen } = props;
  return (
    <div
      role="row"
      tabIndex={-1}
      aria-rowindex={index + 2}
      aria-selected={selected}
      aria-current={beside || undefined}
      className={clsx(
        gridCss.row,
        active !== undefined && gridCss.active,
        selected && gridCss.selected,
        beside && gridCss.beside,
      )}
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
            slotProps={{
              input: { 'aria-label': say('Select {title}', { title: record.title }), tabIndex: -1, readOnly: true },
            }}
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
            {listedText(record, column)}
          </div>
        );
      })}
    </div>
  );
}

/** A row whose record is being read. */
export function RowToCome({ index, style }: { index: number; style: CSSProperties }) {
  return (
    <div role="row" tabIndex={-1} aria-rowindex={index + 2} className={clsx(gridCss.row, gridCss.toCome)} style={style}>
      <div role="gridcell" tabIndex={-1}>
        …
      </div>
    </div>
  );
}
