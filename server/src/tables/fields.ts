import { type Group, pathsOf } from '@fiche/core/conditions';
import { readExpression, resultMisfit } from '@fiche/core/expressions';
import { linksSeveral } from '@fiche/core/fields';
import { rootOf } from '@fiche/core/forms';
import { quoted, relation } from '@fiche/core/queries';
import {
  constraintFields,
  type FieldDefinition,
  type FieldId,
  findField,
  type Initial,
  initialMisfit,
  labelTaken,
  linkedTable,
  type NewField,
  nameFrom,
  type TableDefinition,
  type TableId,
  type Tables,
  targetTable,
  titleNames,
  typeOf,
} from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';
import { refuseForeignTables } from '../definitions/index.ts';
import { notFound, Refusal, unacceptable } from '../http/index.ts';
import { makeColumn, makeColumns } from './columns.ts';
import { enforceCombinations } from './enforceCombinations.ts';
import { checkLiveForms } from './liveForms.ts';
import { canBeNarrowed, checkNarrowing } from './narrowing.ts';
import { readSettings } from './readSettings.ts';
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
      { path: 'type', rule: 'links', message: 'Links to several records cannot be required or unique by themselves.' },
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
        message: `${table.label} has records already: say what they shall hold in ${field.label}, or do not make it required.`,
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
        { path: 'type', rule: 'links', message: `${field.label} links to several records: add it by itself.` },
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
    throw unacceptable([{ path: 'from', rule: 'table', message: 'Choose a table of this cabinet to copy from.' }]);
  const { rows } = await owner.raw<{ rows: unknown[] }>(`SELECT 1 FROM ${relation(tableId)} LIMIT 1`);
  for (const id of fields) {
    const field = findField(source, id);
    if (!field)
      throw unacceptable([{ path: 'fields', rule: 'field', message: `${id} is not a field of ${source.label}.` }]);
    const { id: _id, ...plain } = field;
    // Records that are there would be blank in it; what narrows it reads fields that this table may not have.
    await addField(owner, tableId, { ...plain, narrowing: null, required: plain.required && rows.length === 0 });
  }
  return tableNow(owner, tableId);
}

export interface FieldChange {
  readonly label?: string;
  readonly help?: string;
  readonly required?: boolean;
  readonly unique?: boolean;
  readonly settings?: Readonly<Record<string, unknown>>;
  readonly initial?: Initial | null;
  readonly calculation?: string | null;
  readonly narrowing?: Group | null;
  readonly position?: number;
  readonly revision?: number;
}

/**
 * Changes a field; its column and type stay. Switching `required` or `unique` on is the work of `hold`; off is done
 * here. As the owner, in a transaction.
 */
export async function changeField(
  owner: Transaction,
  tableId: TableId,
  fieldId: FieldId,
  change: FieldChange,
): Promise<TableDefinition> {
  const { table, all, forms } = await lockTable(owner, tableId, change.revision);
  const field = findField(table, fieldId);
  if (!field) throw notFound('This field');
  const others = table.fields.filter((one) => one.id !== fieldId);
  if (change.label !== undefined)
    refuseIf(
      labelTaken(
        change.label,
        others.map((one) => one.label),
        'label',
      ),
    );
  const { position, settings, initial, narrowing, revision, ...plain } = change;
  const columns: Record<string, unknown> = { ...plain };
  if (settings !== undefined) columns.settings = JSON.stringify(changedSettings(all, field, settings));
  if (initial !== undefined) {
    checkInitial({ ...field, initial }, 'initial');
    checkExpression(table, field, initial?.kind === 'calculation' ? initial.source : null, all);
    columns.initial = initial === null ? null : JSON.stringify(initial);
  }
  if (change.calculation !== undefined) checkExpression(table, field, change.calculation, all);
  if (narrowing !== undefined) {
    checkNarrowing(all, forms, table, { ...field, narrowing });
    columns.narrowing = narrowing === null ? null : JSON.stringify(narrowing);
  }
  if (change.required === false && field.required)
    await owner.raw(`ALTER TABLE ${relation(tableId)} ALTER COLUMN ${quoted(fieldId)} DROP NOT NULL`);
  if (change.unique === false && field.unique) {
    const { rows } = await owner.raw<{ rows: { name: string }[] }>(
      `SELECT i.indexrelid::regclass::text AS name FROM pg_index i WHERE i.indrelid = ?::regclass AND i.indisunique AND NOT i.indisprimary
         AND i.indnkeyatts = 1 AND i.indkey[0] = (SELECT attnum FROM pg_attribute WHERE attrelid = i.indrelid AND attname = ?)`,
      [relation(tableId), fieldId],
    );
    for (const { name } of rows) await owner.raw(`DROP INDEX ${name}`);
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

/** What a column was made with: changed by giving the field its type anew. */
const FIXED = ['table', 'places', 'currency', 'prefix', 'withYear', 'width', 'first', 'pairs', 'circles'];

function changedSettings(all: Tables, field: FieldDefinition, settings: Readonly<Record<string, unknown>>): unknown {
  const read = readSettings(field.type, settings);
  refuseForeignTables(all, read, 'settings');
  if (FIXED.some((name) => read[name] !== field.settings[name]))
    throw unacceptable([
      {
        path: 'settings',
        rule: 'fixed',
        message: 'What the column was made with is changed with its type: choose “change the type”.',
      },
    ]);
  return read;
}

/** Refuses a calculation that cannot be read, that gives what the field cannot hold, or that reads its own field. */
function checkExpression(table: TableDefinition, field: FieldDefinition, source: string | null, all: Tables): void {
  if (source === null) return;
  const read = readExpression(source, table.fields, all);
  const wrong =
    'wrong' in read
      ? read.wrong
      : (resultMisfit(read.expression.result, field) ??
        (read.expression.reads.some((path) => path.split('.')[0] === field.id)
          ? `${field.label} cannot be calculated from itself.`
          : undefined));
  if (wrong !== undefined) throw unacceptable([{ path: 'calculation', rule: 'calculation', message: wrong }]);
}

/** Whether a link's own narrowing reads a field of `table`, at any step of a path. */
function narrowedByColumn(all: Tables, link: FieldDefinition, table: TableDefinition, fieldId: FieldId): boolean {
  const steps = (path: string, at: string | undefined): boolean => {
    const [first = '', ...rest] = path.split('.');
    if (at === table.id && first === fieldId) return true;
    return rest.length > 0 && steps(rest.join('.'), linkedTable(findField(all.get(at ?? ''), first)));
  };
  return link.narrowing !== null && pathsOf(link.narrowing, 'column').some((path) => steps(path, targetTable(link)));
}

export function checkInitial(field: NewField, path: string): void {
  const message = initialMisfit(field);
  if (message) throw unacceptable([{ path, rule: 'form', message }]);
}

async function moveField(
  owner: Transaction,
  tableId: TableId,
  others: readonly string[],
  fieldId: FieldId,
  position: number,
): Promise<void> {
  const order = [...others.slice(0, position), fieldId, ...others.slice(position)];
  await owner.raw(
    `UPDATE fiche.field f SET position = o.position - 1 FROM unnest(?::text[]) WITH ORDINALITY AS o(id, position)
     WHERE f.table_id = ? AND f.id = o.id AND f.position <> o.position - 1`,
    [order, tableId],
  );
}

/** Takes a field out of use. Its column, its values and its history stay. Refused while something is built on it. */
export async function retireField(owner: Transaction, tableId: TableId, fieldId: FieldId): Promise<TableDefinition> {
  const { table, all, forms } = await lockTable(owner, tableId);
  const field = findField(table, fieldId);
  if (!field) throw notFound('This field');
  const uses = [
    ...(table.title !== null && titleNames(table.title).includes(fieldId) ? ['the title of the table'] : []),
    ...table.constraints.filter((one) => constraintFields(one).includes(fieldId)).map(() => 'a rule of the table'),
    ...table.rules
      .filter((rule) => rule.at === fieldId || JSON.stringify(rule.must).includes(`"path":"${fieldId}`))
      .map((rule) => `the rule “${rule.message}”`),
    ...table.fields
      .filter(
        (one) => one.narrowing !== null && pathsOf(one.narrowing, 'form').some((path) => rootOf(path) === fieldId),
      )
      .map((one) => `what ${one.label} is narrowed by`),
    ...[...all.values()].flatMap((one) =>
      one.fields
        .filter((other) => narrowedByColumn(all, other, table, fieldId))
        .map((other) => `what ${other.label} of ${one.label} is narrowed by`),
    ),
    ...[...all.values()]
      .filter((one) =>
        one.fields.some(({ settings }) => {
          const level = settings.level as { table: TableId; column: string } | undefined;
          return level?.table === tableId && level.column === fieldId;
        }),
      )
      .map((one) => `a field of ${one.label}, as a level of this list`),
  ];
  if (uses.length > 0)
    throw new Refusal(409, `${field.label} is used by ${[...new Set(uses)].join(', ')}. Remove it there first.`);
  checkLiveForms(all, forms, { ...table, fields: table.fields.filter((one) => one !== field) });
  if (field.required) await owner.raw(`ALTER TABLE ${relation(tableId)} ALTER COLUMN ${quoted(fieldId)} DROP NOT NULL`);
  await owner.raw('UPDATE fiche.field SET retired_at = fiche.moment() WHERE table_id = ? AND id = ?', [
    tableId,
    fieldId,
  ]);
  if (table.kind === 'list') await enforceCombinations(owner, tableId);
  return tableNow(owner, tableId);
}

/** Brings a field back, with the values it had. It comes back not required where records have been added without it. */
export async function returnField(owner: Transaction, tableId: TableId, fieldId: FieldId): Promise<TableDefinition> {
  const { table, all, forms } = await lockTable(owner, tableId);
  const field = table.retired.find((one) => one.id === fieldId);
  if (!field) throw notFound('This field');
  refuseIf(
    labelTaken(
      field.label,
      table.fields.map((one) => one.label),
      'label',
    ),
  );
  const { rows } = await owner.raw<{ rows: unknown[] }>(
    `SELECT 1 FROM ${relation(tableId)} WHERE ${quoted(fieldId)} IS NULL LIMIT 1`,
  );
  const required = field.required && rows.length === 0;
  if (required) await owner.raw(`ALTER TABLE ${relation(tableId)} ALTER COLUMN ${quoted(fieldId)} SET NOT NULL`);
  await owner('fiche.field')
    .where({ table_id: tableId, id: fieldId })
    .update({
      retired_at: null,
      required,
      position: table.fields.length,
      // What it was narrowed by may have gone meanwhile.
      ...(canBeNarrowed(all, forms, table, field) ? {} : { narrowing: null }),
    });
  if (table.kind === 'list') await enforceCombinations(owner, tableId);
  return tableNow(owner, tableId);
}
