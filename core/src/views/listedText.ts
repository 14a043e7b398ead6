import { formatMoment, isLinking, type Value, type Values } from '../fields/index.ts';
import { say } from '../languages/index.ts';
import { typeOf } from '../tables/index.ts';
import { AUDIT_COLUMNS, type AuditColumn, isAuditColumn, type KnownColumn } from './columns.ts';
import { formatSummary, SUMMARY_LABELS } from './summaries.ts';
import type { Listing } from './view.ts';

/** Who added and changed a record, and when (ISO 8601 in UTC). */
interface Stamp {
  readonly createdAt: string;
  readonly createdBy: string;
  readonly changedAt: string;
  readonly changedBy: string;
}

/** What a list has of a record: its values, those behind its links by path, and what linked records are called. */
interface ListedValues {
  readonly values: Values;
  readonly behind: Readonly<Record<string, { readonly value: Value; readonly title: string | null }>>;
  readonly linked: Readonly<Record<string, { readonly title: string } | null | undefined>>;
  readonly stamp: Stamp;
}

/** An audit field of a record: a login, or a moment as ISO 8601 in UTC. */
export function auditValue(stamp: Stamp, path: AuditColumn): string {
  switch (path) {
    case 'created_at':
      return stamp.createdAt;
    case 'created_by':
      return stamp.createdBy;
    case 'changed_at':
      return stamp.changedAt;
    case 'changed_by':
      return stamp.changedBy;
  }
}

/** What a column of a list says of a record, as people read it, on the screen and on paper; `''` for a blank. */
export function listedText(record: ListedValues, { path, field }: KnownColumn): string {
  if (field === undefined) {
    if (!isAuditColumn(path)) return '';
    const value = auditValue(record.stamp, path);
    return AUDIT_COLUMNS[path].holds === 'moment' ? formatMoment(value) : value;
  }
  const behind = record.behind[path];
  const value = behind ? behind.value : (record.values[path] ?? null);
  if (value === null) return '';
  if (isLinking(field)) return (behind ? behind.title : record.linked[path]?.title) ?? '';
  return typeOf(field).format(value, field.settings);
}

/** What a group is called: the value, or the title, that its records share. */
export function groupTitle(
  { value, title }: { readonly value: Value; readonly title: string | null },
  column: KnownColumn | undefined,
): string {
  if (title !== null) return title;
  if (value === null || column?.field === undefined) return say('without {label}', { label: column?.label ?? '' });
  return typeOf(column.field).format(value, column.field.settings);
}

/** `sum €1,204.00` by the path of each column that has a summary, and something to sum. */
export function summariesUnder(
  { columns }: Listing,
  known: readonly KnownColumn[],
  values: Readonly<Record<string, Value>>,
): ReadonlyMap<string, string> {
  return new Map(
    columns.flatMap(({ path, summary }): [string, string][] => {
      const column = known.find((one) => one.path === path);
      const words = summary && column ? formatSummary(column, summary, values[path] ?? null) : '';
      return summary && words !== '' ? [[path, `${say(SUMMARY_LABELS[summary])} ${words}`]] : [];
    }),
  );
}
