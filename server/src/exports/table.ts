import { itemsOf, type Value, writeItems } from '@fiche/core/fields';
import { quoted, recordsOf } from '@fiche/core/queries';
import {
  type FieldDefinition,
  linkedTable,
  type TableDefinition,
  type Tables,
  targetTable,
  typeOf,
} from '@fiche/core/tables';
import { stringify } from 'csv-stringify/sync';
import type { Database, Transaction } from '../database/index.ts';
import { filterSql, type RecordFilter, showTitle, titleSql } from '../records/index.ts';

const STEP = 2_000;

/** Lines of CSV (RFC 4180) with a mark before what a spreadsheet would take for a formula; reading takes it off again. */
export const csvLines = (rows: readonly (readonly string[])[], formulaGuard: readonly boolean[]): string =>
  stringify(
    rows.map((row) => row.map((cell, at) => (formulaGuard[at] ? guarded(cell) : cell))),
    { record_delimiter: '\r\n' },
  );

/** Text that begins like a formula, or like a guarded one. Numbers keep their minus. */
const guarded = (cell: string): string => (/^'?[=+\-@\t\r]|^''/.test(cell) ? `'${cell}` : cell);

export const guards = (field: FieldDefinition): boolean =>
  ['text', 'link', 'links', 'choices'].includes(typeOf(field).family);

/** The records of a table that are meant, and that `limit` allows as SQL over `r`, as CSV, page by page: links by their titles, values as people read them, without units. */
export async function* tableCsv(
  app: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  filter: RecordFilter = { search: '', archived: 'no' },
  limit: string | null = null,
): AsyncGenerator<string> {
  const fields = table.fields;
  const { where, values } = filterSql(tables, table, filter);
  if (limit !== null) where.push(limit);
  const guard = fields.map(guards);
  yield `\ufeff${csvLines(
    [fields.map((field) => field.label)],
    fields.map(() => true),
  )}`;
  let last = 0;
  for (;;) {
    const columns = fields.map((field) => `${columnSql(tables, field)} AS ${quoted(field.id)}`);
    const { rows } = await app.raw<{ rows: (Record<string, unknown> & { id: number })[] }>(
      `SELECT r.id${columns.map((column) => `, ${column}`).join('')} FROM ${recordsOf(tables, table.id)} r WHERE ${where.join(' AND ')} AND r.id > ? ORDER BY r.id LIMIT ${STEP}`,
      [...values, last],
    );
    if (rows.length > 0)
      yield csvLines(
        rows.map((row) => fields.map((field) => cellOf(tables, field, row[field.id]))),
        guard,
      );
    if (rows.length < STEP) return;
    last = rows.at(-1)?.id ?? last;
  }
}

function columnSql(tables: Tables, field: FieldDefinition): string {
  const target = tables.get(targetTable(field) ?? '');
  const column = `r.${quoted(field.id)}`;
  if (!target) return column;
  if (linkedTable(field) !== undefined)
    return `(SELECT json_build_array(${titleSql(tables, target, 'l')}) FROM ${recordsOf(tables, target.id)} l WHERE l.id = ${column})`;
  return `(SELECT json_agg(${titleSql(tables, target, 'l')} ORDER BY array_position(${column}, l.id)) FROM ${recordsOf(tables, target.id)} l WHERE l.id = ANY(${column}))`;
}

function cellOf(tables: Tables, field: FieldDefinition, value: unknown): string {
  if (value === null || value === undefined) return '';
  const target = tables.get(targetTable(field) ?? '');
  if (target) {
    const titles = (value as unknown[]).map((title) => showTitle(tables, target, title));
    return linkedTable(field) !== undefined ? (titles[0] ?? '') : writeItems(titles);
  }
  return plainText(field, value as Value);
}

/** A value as text that any program reads: ISO dates, plain numbers, yes and no. */
export function plainText(field: FieldDefinition, value: Value): string {
  if (value === null) return '';
  if (typeof value === 'object') return writeItems(itemsOf(value));
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  return typeof value === 'number' ? String(value) : typeOf(field).family === 'text' ? value : value.replace('T', ' ');
}
