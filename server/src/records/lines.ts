import type { RecordView } from '@fiche/core/api';
import { type Group, withAnswers } from '@fiche/core/conditions';
import { MOST_LINES, type PreparedForm, type PreparedSubform } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import { conditionToSql, quoted, type Sql } from '@fiche/core/queries';
import { type Asking, resolveRight } from '@fiche/core/rights';
import { findField, type RecordId, type TableId, type Tables } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';
import { Refusal } from '../http/index.ts';
import { originsOfRecords } from './origins.ts';
import { findRecordsWhere } from './store.ts';

type Queryable = Database | Transaction;

/** Who asks for lines, and what of them: only those that `tables` has; `lock` keeps them as they are. */
interface LinesAsked {
  readonly asking: Asking;
  readonly lock?: boolean;
  readonly tables?: Tables;
}

/** The filter of the view that feeds a subform as a condition over the line `r`; what it asks each time narrows nothing. */
const withinSql = (form: PreparedForm, within: Group | undefined, asking: Asking): Sql =>
  within
    ? conditionToSql(form.tables, form.table.id, 'r', resolveRight(withAnswers(within, []), asking))
    : { text: 'TRUE', values: [] };

/**
 * The lines in use of one record that `tables` has, in the order that was given to them and then of entry, each with what
 * its form reads. Throws 422 where there are more than a form holds.
 */
export const linesOfRecord = async (
  database: Queryable,
  subform: PreparedSubform,
  record: RecordId,
  how: LinesAsked,
): Promise<RecordView[]> => (await linesOfRecords(database, subform, [record], how)).get(record) ?? [];

/** The same of several records at once, by record. */
async function linesOfRecords(
  database: Queryable,
  { form, definition, within }: PreparedSubform,
  records: readonly RecordId[],
  { asking, lock = false, tables = form.tables }: LinesAsked,
): Promise<Map<RecordId, RecordView[]>> {
  const { table } = form;
  if (!findField(tables.get(table.id), definition.link) || records.length === 0) return new Map();
  const link = `r.${quoted(definition.link)}`;
  const order = `(SELECT array_position(o.records, r.id) FROM fiche.line_order o WHERE o.table_id = ? AND o.link = ? AND o.record = ${link})`;
  const fed = withinSql(form, within, asking);
  const lines = await findRecordsWhere(
    database,
    tables,
    table.id,
    `${link} = ANY(?) AND r.archived_at IS NULL AND ${fed.text} ORDER BY ${order} NULLS LAST, r.id LIMIT ${records.length * MOST_LINES + 1}`,
    [records, ...(fed.values as (string | number)[]), table.id, definition.link],
    (field) => form.fields.get(field.id)?.factPaths ?? [],
    lock,
  );
  const byRecord = new Map(records.map((record): [RecordId, RecordView[]] => [record, []]));
  for (const line of lines) byRecord.get(Number(line.values[definition.link]))?.push(line);
  if ([...byRecord.values()].some((some) => some.length > MOST_LINES))
    throw new Refusal(
      422,
      say('{label} has more than {mostLines} records here, too many to enter as lines. Look at them in their table.', {
        label: table.label,
        mostLines: formatCount(MOST_LINES),
      }),
    );
  const origins = await originsOfRecords(
    database,
    tables,
    table.id,
    lines.map((line) => line.id),
  );
  const withOrigins = (line: RecordView): RecordView => ({ ...line, origins: origins.get(line.id) ?? {} });
  return new Map([...byRecord].map(([record, some]) => [record, some.map(withOrigins)]));
}

/** The lines of every subform of a form, for one record. */
export const linesOfForm = async (
  database: Queryable,
  form: PreparedForm,
  record: RecordId,
  how: LinesAsked,
): Promise<Record<string, RecordView[]>> => (await linesOfForms(database, form, [record], how)).get(record) ?? {};

/** The same for several records at once, by record. */
export async function linesOfForms(
  database: Queryable,
  form: PreparedForm,
  records: readonly RecordId[],
  how: LinesAsked,
): Promise<Map<RecordId, Record<string, RecordView[]>>> {
  const found = new Map(records.map((record): [RecordId, Record<string, RecordView[]>] => [record, {}]));
  for (const subform of form.subforms.values()) {
    const lines = await linesOfRecords(database, subform, records, how);
    for (const [record, own] of found) own[subform.id] = lines.get(record) ?? [];
  }
  return found;
}

/** Keeps the order of the lines of a record; in order of entry, nothing needs to be kept. */
export async function keepOrder(
  transaction: Transaction,
  { table, link, record }: { readonly table: TableId; readonly link: string; readonly record: RecordId },
  lines: readonly number[],
): Promise<void> {
  const natural = lines.every((id, at) => at === 0 || id > (lines[at - 1] ?? 0));
  const kept = natural
    ? `UPDATE fiche.line_order SET records = '{}' WHERE table_id = ? AND link = ? AND record = ? AND records <> '{}'`
    : `INSERT INTO fiche.line_order (table_id, link, record, records) VALUES (?, ?, ?, ?::bigint[])
       ON CONFLICT (table_id, link, record) DO UPDATE SET records = excluded.records WHERE line_order.records <> excluded.records`;
  await transaction.raw(kept, [table, link, record, ...(natural ? [] : [`{${lines.join(',')}}`])]);
}
