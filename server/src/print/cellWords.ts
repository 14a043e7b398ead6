import type { ListedRecord } from '@fiche/core/api';
import { formatMoment } from '@fiche/core/fields';
import { targetTable, typeOf } from '@fiche/core/tables';
import { isAuditColumn, type KnownColumn } from '@fiche/core/views';

/** What a column of a list says of a record, as people read it; `''` for a blank. */
export function cellWords(record: ListedRecord, { path, field }: KnownColumn): string {
  if (field === undefined) return isAuditColumn(path) ? stampWords(record, path) : '';
  const behind = record.behind[path];
  const value = behind ? behind.value : (record.values[path] ?? null);
  if (value === null) return '';
  if (targetTable(field) !== undefined) return behind ? (behind.title ?? '') : (record.linked[path]?.title ?? '');
  return typeOf(field).format(value, field.settings);
}

function stampWords({ stamp }: ListedRecord, path: string): string {
  if (path === 'created_by') return stamp.createdBy;
  if (path === 'changed_by') return stamp.changedBy;
  return formatMoment(path === 'created_at' ? stamp.createdAt : stamp.changedAt);
}
