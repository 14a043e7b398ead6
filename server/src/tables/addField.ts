import { linksSeveral } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import {
  type FieldDefinition,
  type FieldId,
  findField,
  initialMisfit,
  labelTaken,
  type NewField,
  nameFrom,
  type TableDefinition,
  type TableId,
  typeOf,
} from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';
import { refuseForeignTables } from '../definitions/index.ts';
import { unacceptable } from '../http/index.ts';
import { makeColumn, makeColumns } from './columns.ts';
import { enforceCombinations } from './enforceCombinations.ts';
import { checkNarrowing } from './narrowing.ts';
import { lockTable, refuseIf, tableNow } from './store.ts';

/** Field types that can name a record by themselves. */
const NAMING = ['text', 'sequence', 'choice'];

/**
 * Adds a field with its column. `pending` keeps it from everybody's sight until its records hold what they shall. As
 * the owner, in a transaction.
 */
export async function addField(
  owner: Transaction,
  tableId: TableId,
  field: NewField,
  more: { readonly pending?: boolean; readonly id?: string } = {},
): Promise<TableDefinition> {
  const { table, all, forms } = await lockTable(owner, tableId);
  refuseIf(
    labelTaken(
      field.label,
      table.fields.map((one) => one.label),
      'label',
    ),
  );
  refuseForeignTables(all, field.settings, 'settings.table');
  checkInitial(field, 'initial');
  checkNarrowing(all, forms, table, { ...field, id: more.id ?? '' });
  if (linksSeveral(field) && (field.unique || field.required))
    throw unacceptable([
      {
        path: 'type',
        rule: 'links',
        message: say('Links to several records cannot be required or unique by themselves.'),
      },
    ]);
  const { rows: names } = await owner.raw<{ rows: { id: string }[] }>('SELECT id FROM fiche.field WHERE table_id = ?', [
    tableId,
  ]);
  const id = more.id ?? nameFrom(field.label, new Set(names.map((one) => one.id)), 'field');
  const settings = linksSeveral(field)
    ? { ...field.settings, pairs: await pairsName(owner, tableId, id) }
    : field.settings;
  if (field.required && !more.pending && typeOf({ ...field, id }).editable) await requireNoRecords(owner, table, field);
  await owner('fiche.field').insert({
    ...field,
    table_id: tableId,
    id,
    settings: JSON.stringify(settings),
    initial: field.initial === null ? null : JSON.stringify(field.initial),
    narrowing: field.narrowing ? JSON.stringify(field.narrowing) : null,
    position: table.fields.length,
    pending: more.pending ?? false,
  });
  await makeColumn(owner, tableId, { ...field, settings, id });
  if (field.required && !more.pending && typeOf({ ...field, id }).editable)
    await owner.raw(`ALTER TABLE ${relation(tableId)} ALTER COLUMN ${quoted(id)} SET NOT NULL`);
  if (table.title === null && !more.pending && NAMING.includes(field.type))
    await owner('fiche.table').where({ id: tableId }).update({ title: id });
  if (table.kind === 'list') await enforceCombinations(owner, tableId);
  return tableNow(owner, tableId);
}

/** Refuses a required field in which existing records would begin blank, and says what to do. */
async function requireNoRecords(owner: Transaction, table: TableDefinition, field: NewField): Promise<void> {
  const { rows } = await owner.raw<{ rows: unknown[] }>(`SELECT 1 FROM ${relation(table.id)} LIMIT 1`);
  if (rows.length > 0)
    throw unacceptable([
      {
        path: 'required',
        rule: 'backfill',
        message: say('{label} has records already: say what they shall hold in {other}, or do not make it required.', {
          label: table.label,
          other: field.label,
        }),
      },
    ]);
}

async function pairsName(owner: Transaction, tableId: TableId, field: FieldId): Promise<string> {
  const { rows } = await owner.raw<{ rows: { name: string }[] }>(
    `SELECT relname::text AS name FROM pg_class WHERE relnamespace = 'data'::regnamespace`,
  );
  return nameFrom(`${tableId.slice(0, 30)} ${field} pairs`.slice(0, 55), new Set(rows.map((row) => row.name)), 'pairs');
}

/** More text columns than this are not kept in order: a table that wide came out of a file. */
const ORDERED_MOST = 30;

/**
 * Gives a table without records many plain fields at once: types, places and labels as they are said, ids as they are
 * given. Required ones are `held` to it at once, or later by the caller. As the owner, in a transaction.
 */
export async function addFields(
  owner: Transaction,
  tableId: TableId,
  fields: readonly FieldDefinition[],
  more: { readonly held: boolean },
): Promise<TableDefinition> {
  const { table, all } = await lockTable(owner, tableId);
  const labels = table.fields.map((one) => one.label);
  for (const field of fields) {
    refuseIf(labelTaken(field.label, labels, 'label'));
    labels.push(field.label);
    checkInitial(field, 'initial');
    refuseForeignTables(all, field.settings, 'settings.table');
    if (linksSeveral(field))
      throw unacceptable([
        {
          path: 'type',
          rule: 'links',
          message: say('{label} links to several records: add it by itself.', { label: field.label }),
        },
      ]);
  }
  await owner.raw(
    `INSERT INTO fiche.field (table_id, id, label, type, settings, required, "unique", help, initial, calculation, narrowing, position)
     SELECT ?, f->>'id', f->>'label', f->>'type', f->'settings', (f->>'required')::boolean, (f->>'unique')::boolean, f->>'help', nullif(f->'initial', 'null'), f->>'calculation', nullif(f->'narrowing', 'null'), ? + n - 1
     FROM jsonb_array_elements(?::jsonb) WITH ORDINALITY AS t(f, n)`,
    [tableId, table.fields.length, JSON.stringify(fields)],
  );
  await makeColumns(owner, tableId, fields, ORDERED_MOST);
  const required = more.held ? fields.filter((field) => field.required && typeOf(field).editable) : [];
  if (required.length > 0)
    await owner.raw(
      `ALTER TABLE ${relation(tableId)} ${required.map((field) => `ALTER COLUMN ${quoted(field.id)} SET NOT NULL`).join(', ')}`,
    );
  const title = fields.find((field) => NAMING.includes(field.type));
  if (table.title === null && title) await owner('fiche.table').where({ id: tableId }).update({ title: title.id });
  return tableNow(owner, tableId);
}

/** Takes over chosen fields of another table of the cabinet: their definitions, not their data. */
export async function copyFields(
  owner: Transaction,
  tableId: TableId,
  from: string,
  fields: readonly string[],
): Promise<TableDefinition> {
  const { all } = await lockTable(owner, tableId);
  const source = all.get(from);
  if (!source)
    throw unacceptable([{ path: 'from', rule: 'table', message: say('Choose a table of this cabinet to copy from.') }]);
  const { rows } = await owner.raw<{ rows: unknown[] }>(`SELECT 1 FROM ${relation(tableId)} LIMIT 1`);
  for (const id of fields) {
    const field = findField(source, id);
    if (!field)
      throw unacceptable([
        { path: 'fields', rule: 'field', message: say('{id} is not a field of {label}.', { id, label: source.label }) },
      ]);
    const { id: _id, ...plain } = field;
    // Records that are there would be blank in it; what narrows it reads fields that this table may not have.
    await addField(owner, tableId, { ...plain, narrowing: null, required: plain.required && rows.length === 0 });
  }
  return tableNow(owner, tableId);
}

/** Refuses a default that the field could not hold. */
export function checkInitial(field: NewField, path: string): void {
  const message = initialMisfit(field);
  if (message) throw unacceptable([{ path, rule: 'form', message }]);
}
