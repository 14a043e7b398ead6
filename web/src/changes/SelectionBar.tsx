import type { ChangeOfMany } from '@fiche/core/changes';
import { say, sayCount } from '@fiche/core/languages';
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
    <div className={changeCss.bar} role="toolbar" aria-label={say('Selected records')}>
      <strong role="status">
        {say('{count} selected', {
          count: sayCount(count, '{count} record', '{count} records'),
        })}
      </strong>
      {count < total && (
        <Button variant="text" onClick={onSelectAll}>
          {say('Select all {total} that are found', { total: formatCount(total) })}
        </Button>
      )}
      <Button variant="text" onClick={onClear}>
        {say('Clear selection')}
      </Button>
      <span className={changeCss.changes}>
        {!archived && may('change', table.id) && (
          <Button onClick={() => onChange('set')}>{say('Change fields')}</Button>
        )}
        {may('archive', table.id) && (
          <Button onClick={() => onChange(archived ? 'restore' : 'archive')}>
            {archived ? say('Restore') : say('Archive')} {formatCount(count)}
          </Button>
        )}
        {!archived && onMerge && may('change', table.id) && may('archive', table.id) && (
          <Button onClick={onMerge}>{say('Compare and merge')}</Button>
        )}
        {may('export', table.id) && (
          <Button onClick={onExport}>{say('Export or print {count}', { count: formatCount(count) })}</Button>
        )}
        {!may('change', table.id) && !may('archive', table.id) && (
          <span className={textCss.faded}>{say('Your role does not change these records.')}</span>
        )}
      </span>
    </div>
  );
}
