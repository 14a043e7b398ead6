import type { ChangeOfMany } from '@fiche/core/changes';
import { formatCount } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { useOffice } from '../client/index.ts';
import { textCss } from '../parts/index.ts';
import changeCss from './change.module.css';

interface SelectionBarProps {
  readonly table: TableDefinition;
  /** How many records are selected, of so many that the list finds. */
  readonly count: number;
  readonly total: number;
  /** Whether the list shows archived records. */
  readonly archived: boolean;
  onSelectAll(): void;
  onClear(): void;
  onChange(kind: ChangeOfMany['kind']): void;
  onExport(): void;
  /** Compares the selected records and makes one of them; undefined where they are not named one by one. */
  onMerge: (() => void) | undefined;
}

/** How many records are selected, and what can be done with them. */
export function SelectionBar({
  table,
  count,
  total,
  archived,
  onSelectAll,
  onClear,
  onChange,
  onExport,
  onMerge,
}: SelectionBarProps) {
  const { may } = useOffice();
  if (count === 0) return null;
  return (
    <div className={changeCss.bar} role="toolbar" aria-label="Selected records">
      <strong role="status">
        {formatCount(count)} {count === 1 ? 'record' : 'records'} selected
      </strong>
      {count < total && (
        <Button variant="text" onClick={onSelectAll}>
          Select all {formatCount(total)} that are found
        </Button>
      )}
      <Button variant="text" onClick={onClear}>
        Clear selection
      </Button>
      <span className={changeCss.changes}>
        {!archived && may('change', table.id) && <Button onClick={() => onChange('set')}>Change fields</Button>}
        {may('archive', table.id) && (
          <Button onClick={() => onChange(archived ? 'restore' : 'archive')}>
            {archived ? 'Restore' : 'Archive'} {formatCount(count)}
          </Button>
        )}
        {!archived && onMerge && may('change', table.id) && may('archive', table.id) && (
          <Button onClick={onMerge}>Compare and merge</Button>
        )}
        {may('export', table.id) && <Button onClick={onExport}>Export or print {formatCount(count)}</Button>}
        {!may('change', table.id) && !may('archive', table.id) && (
          <span className={textCss.faded}>Your role does not change these records.</span>
        )}
      </span>
    </div>
  );
}
