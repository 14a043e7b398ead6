import type { ListedGroup } from '@fiche/core/api';
import { formatCount } from '@fiche/core/office';
import OpenIcon from '@mui/icons-material/ArrowDropDown';
import ClosedIcon from '@mui/icons-material/ArrowRight';
import { clsx } from 'clsx';
import type { CSSProperties } from 'react';
import { textCss } from '../parts/index.ts';
import gridCss from './grid.module.css';
import { cellClass } from './gridCells.ts';
import type { DrawnColumn } from './useGridColumns.ts';

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
export function GroupRow({
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
