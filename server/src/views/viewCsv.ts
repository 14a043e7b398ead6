import type { ListedRecord } from '@fiche/core/api';
import { formatMoment, linksSeveral, writeItems } from '@fiche/core/fields';
import { type TableDefinition, type Tables, targetTable } from '@fiche/core/tables';
import { columnOf, isAuditColumn, type KnownColumn } from '@fiche/core/views';
import type { Database } from '../database/index.ts';
import { csvLines, guards, plainText } from '../exports/index.ts';
import { listRows, type RowsQuery } from './rows.ts';

const STEP = 1_000;

/** The records of a listing as CSV, page by page, in its order: links by their titles, values without units. */
export async function* viewCsv(
  app: Database,
  tables: Tables,
  table: TableDefinition,
  query: Omit<RowsQuery, 'after' | 'limit'>,
  reader: Parameters<typeof listRows>[4],
): AsyncGenerator<string> {
  const columns = query.listing.columns.flatMap((one) => columnOf(tables, table.id, one) ?? []);
  const guard = columns.map(({ field }) => field === undefined || guards(field));
  yield `\ufeff${csvLines(
    [columns.map((column) => column.label)],
    columns.map(() => true),
  )}`;
  let after: string | undefined;
  do {
    const page = await listRows(app, tables, table, { ...query, after, limit: STEP }, reader);
    if (page.records.length > 0)
      yield csvLines(
        page.records.map((record) => columns.map((column) => cellOf(record, column))),
        guard,
      );
    after = page.after ?? undefined;
  } while (after !== undefined);
}

function cellOf(record: ListedRecord, { path, field }: KnownColumn): string {
  if (field === undefined) return isAuditColumn(path) ? auditText(record, path) : '';
  const links = targetTable(field) !== undefined;
  const behind = record.behind[path];
  if (behind) return links ? (behind.title ?? '') : plainText(field, behind.value);
  const value = record.values[path] ?? null;
  if (!links || value === null) return plainText(field, value);
  const linked = record.linked[path];
  return linksSeveral(field) ? writeItems(Object.values(linked?.titles ?? {})) : (linked?.title ?? '');
}

function auditText({ stamp }: ListedRecord, path: string): string {
  if (path === 'created_by') return stamp.createdBy;
  if (path === 'changed_by') return stamp.changedBy;
  return formatMoment(path === 'created_at' ? stamp.createdAt : stamp.changedAt);
}
