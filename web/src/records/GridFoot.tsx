import type { KnownColumn } from '@fiche/core/views';
import { clsx } from 'clsx';
import type { CSSProperties } from 'react';
import gridCss from './grid.module.css';
import { cellClass } from './gridCells.ts';
import { type DrawnColumn, isDrawn } from './useGridColumns.ts';

interface GridFootProps {
  readonly columns: readonly DrawnColumn[] | readonly KnownColumn[];
  readonly foot: ReadonlyMap<string, string>;
  readonly phone: boolean;
  readonly style: CSSProperties;
}

/** The summaries under their columns; on a phone as a card of their own. */
export function GridFoot({ columns, foot, phone, style }: GridFootProps) {
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
