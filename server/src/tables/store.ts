import type { Problem } from '@fiche/core/fields';
import { fieldType } from '@fiche/core/fields';
import { quoted, relation } from '@fiche/core/queries';
import type { Rule } from '@fiche/core/rules';
import {
  type FieldDefinition,
  findField,
  type Initial,
  isReserved,
  labelTaken,
  linkedTable,
  type NewField,
  nameFrom,
  type TableDefinition,
  typeOf,
} from '@fiche/core/tables';
import { APP_ROLE, type Transaction } from '../database/index.ts';
import { loadDefinitions, touchCabinet } from '../definitions/index.ts';
import { notFound, unacceptable } from '../http/index.ts';

const refuseIf = (problem: Problem | undefined): void => {
  if (problem) throw unacceptable([problem]);
};

/** Makes a cabinet: a named group of tables and forms. As the owner. */
export async function createCabinet(owner: Transaction, id: string, label: string): Promise<void> {
  await owner('fiche.cabinet').insert({ id, label });
}

/** Makes a table with its real PostgreSQL table, audit fields, stamping and capture. As the owner, in a transaction. */
export async function createTable(
  owner: Transaction,
  cabinet: string,
  label: string,
  description: string,
): Promise<TableDefinition> {
  await touchCabinet(owner, cabinet);
  const { tables } = await loadDefinitions(owner);
  const siblings = [...tables.values()].filter((one) => one.cabinet === cabinet);
  refuseIf(
    labelTaken(
      label,
      siblings.map((one) => one.label),
      'label',
    ),
  );
  const id = nameFrom(`${cabinet} ${label}`.slice(0, 200), new Set(tables.keys()), `${cabinet}_table`);
  await owner('fiche.table').insert({ id, cabinet, label, description, position: siblings.length });
  await owner.raw('SELECT fiche.make_record_table(?)', [id]);
  return tableNow(owner, id);
}

export interface TableChange {
  readonly label?: string;
  readonly description?: string;
  readonly title?: string | null;
  readonly rules?: readonly Rule[];
}

/** Changes what a table is called and how its records are named. As the owner, in a transaction. */
export async function changeTable(owner: Transaction, id: string, change: TableChange): Promise<TableDefinition> {
  const { table, siblings } = await lockTable(owner, id);
  if (change.label !== undefined)
    refuseIf(
      labelTaken(
        change.label,
        siblings.map((one) => one.label),
        'label',
      ),
    );
  if (change.title && !findField(table, change.title))
    throw unacceptable([{ path: 'title', rule: 'field', message: 'The title must be a field of this table.' }]);
  const { rules, ...plain } = change;
  const columns = rules === undefined ? plain : { ...plain, rules: JSON.stringify(rules) };
  if (Object.keys(columns).length > 0) await owner('fiche.table').where({ id }).update(columns);
  return tableNow(owner, id);
}

/** Adds a field with its column, and with the foreign key and indexes that it needs. As the owner, in a transaction. */
export async function addField(owner: Transaction, tableId: string, field: NewField): Promise<TableDefinition> {
  const { table, all } = await lockTable(owner, tableId);
  refuseIf(
    labelTaken(
      field.label,
      table.fields.map((one) => one.label),
      'label',
    ),
  );
  const target = field.type === 'link' ? String(field.settings.table) : undefined;
  if (target !== undefined && all.get(target)?.cabinet !== table.cabinet)
    throw unacceptable([
      { path: 'settings.table', rule: 'link', message: 'Choose a table of this cabinet to link to.' },
    ]);
  checkInitial(field, 'initial');
  const id = nameFrom(field.label, new Set(table.fields.map((one) => one.id)), 'field');
  await owner('fiche.field').insert({
    ...field,
    table_id: tableId,
    id,
    settings: JSON.stringify(field.settings),
    initial: field.initial === null ? null : JSON.stringify(field.initial),
    position: table.fields.length,
  });
  await makeColumn(owner, tableId, { ...field, id });
  if (table.title === null && ['text', 'sequence', 'choice'].includes(field.type))
    await owner('fiche.table').where({ id: tableId }).update({ title: id });
  return tableNow(owner, tableId);
}

async function makeColumn(owner: Transaction, tableId: string, field: FieldDefinition): Promise<void> {
  const type = typeOf(field);
  const place = relation(tableId);
  const column = quoted(field.id);
  const given = field.type === 'sequence' ? ` DEFAULT ${numberDefault(owner, tableId, field)}` : '';
  await owner.raw(`ALTER TABLE ${place} ADD COLUMN ${column} ${type.column(field.settings)}${given}`);
  await owner.raw('SELECT ledger.capture_records(?)', [tableId]);
  if (type.editable) await owner.raw(`GRANT INSERT (${column}), UPDATE (${column}) ON ${place} TO ${APP_ROLE}`);
  const target = linkedTable(field);
  if (target !== undefined) {
    await owner.raw(
      `ALTER TABLE ${place} ADD FOREIGN KEY (${column}) REFERENCES ${relation(target)} ON DELETE RESTRICT`,
    );
    await owner.raw(`CREATE INDEX ON ${place} (${column})`);
  }
  if (field.unique || field.type === 'sequence') await owner.raw(`CREATE UNIQUE INDEX ON ${place} (${column})`);
  if (type.family === 'text' && field.type !== 'longText')
    await owner.raw(`CREATE INDEX ON ${place} (${column} COLLATE fiche.natural, id)`);
}

function numberDefault(owner: Transaction, tableId: string, field: FieldDefinition): string {
  const { prefix, withYear, width, first } = field.settings;
  const counter = `${tableId}_${field.id}`.slice(0, 50);
  return owner
    .raw('fiche.next_number(?, ?, ?, ?, ?)', [counter, String(prefix), Boolean(withYear), Number(width), Number(first)])
    .toQuery();
}

export interface FieldChange {
  readonly label?: string;
  readonly help?: string;
  readonly required?: boolean;
  readonly settings?: Readonly<Record<string, unknown>>;
  readonly initial?: Initial | null;
  readonly position?: number;
}

/** Changes a field; its column and type stay. As the owner, in a transaction. */
export async function changeField(
  owner: Transaction,
  tableId: string,
  fieldId: string,
  change: FieldChange,
): Promise<TableDefinition> {
  const { table } = await lockTable(owner, tableId);
  const field = findField(table, fieldId);
  if (!field || isReserved(fieldId)) throw notFound('This field');
  const others = table.fields.filter((one) => one.id !== fieldId);
  if (change.label !== undefined)
    refuseIf(
      labelTaken(
        change.label,
        others.map((one) => one.label),
        'label',
      ),
    );
  const { position, settings, initial, ...plain } = change;
  const columns: Record<string, unknown> = { ...plain };
  if (settings !== undefined) columns.settings = JSON.stringify(readSettings(field, settings));
  if (initial !== undefined) {
    checkInitial({ ...field, initial }, 'initial');
    columns.initial = initial === null ? null : JSON.stringify(initial);
  }
  if (Object.keys(columns).length > 0)
    await owner('fiche.field').where({ table_id: tableId, id: fieldId }).update(columns);
  if (position !== undefined)
    await moveField(
      owner,
      tableId,
      others.map((one) => one.id),
      fieldId,
      position,
    );
  return tableNow(owner, tableId);
}

function readSettings(field: FieldDefinition, settings: Readonly<Record<string, unknown>>): unknown {
  const read = fieldType(field.type).settingsSchema.safeParse(settings);
  if (!read.success)
    throw unacceptable(
      read.error.issues.map((issue) => ({
        path: ['settings', ...issue.path].join('.'),
        rule: 'form',
        message: issue.message,
      })),
    );
  const fixed = ['table', 'places', 'prefix', 'withYear', 'width', 'first'];
  if (fixed.some((name) => read.data[name] !== field.settings[name]))
    throw unacceptable([
      {
        path: 'settings',
        rule: 'fixed',
        message: 'What the column was made with cannot be changed. Add another field instead.',
      },
    ]);
  return read.data;
}

function checkInitial(field: NewField, path: string): void {
  if (field.initial?.kind !== 'value') return;
  const read = fieldType(field.type).accept(field.initial.value, field.settings);
  if (!read.ok) throw unacceptable([{ path, rule: 'form', message: read.message }]);
}

async function moveField(
  owner: Transaction,
  tableId: string,
  others: readonly string[],
  fieldId: string,
  position: number,
): Promise<void> {
  const order = [...others.slice(0, position), fieldId, ...others.slice(position)];
  await owner.raw(
    `UPDATE fiche.field f SET position = o.position - 1 FROM unnest(?::text[]) WITH ORDINALITY AS o(id, position)
     WHERE f.table_id = ? AND f.id = o.id AND f.position <> o.position - 1`,
    [order, tableId],
  );
}

async function lockTable(owner: Transaction, id: string) {
  const { rows } = await owner.raw<{ rows: { cabinet: string }[] }>('SELECT cabinet FROM fiche."table" WHERE id = ?', [
    id,
  ]);
  const cabinet = rows[0]?.cabinet;
  if (cabinet === undefined) throw notFound('This table');
  await touchCabinet(owner, cabinet);
  const { tables } = await loadDefinitions(owner);
  const table = tables.get(id);
  if (!table) throw notFound('This table');
  return {
    table,
    all: tables,
    siblings: [...tables.values()].filter((one) => one.cabinet === cabinet && one.id !== id),
  };
}

async function tableNow(owner: Transaction, id: string): Promise<TableDefinition> {
  const table = (await loadDefinitions(owner)).tables.get(id);
  if (!table) throw notFound('This table');
  return table;
}
