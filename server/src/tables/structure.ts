import type { Backfill, Hold } from '@fiche/core/api';
import { readExpression } from '@fiche/core/expressions';
import { convert, fieldType, isConvertible, type Settings, type Value, type Values } from '@fiche/core/fields';
import { quoted, relation } from '@fiche/core/queries';
import {
  type Constraint,
  constraintFields,
  type FieldDefinition,
  findField,
  type NewField,
  type TableDefinition,
  typeOf,
} from '@fiche/core/tables';
import { heldName } from '../constraints/index.ts';
import { APP_ROLE, asActor, type Database, type Transaction } from '../database/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { notFound, Refusal, unacceptable } from '../http/index.ts';
import type { Work, Worker } from '../tasks/index.ts';
import { indexesOf, rangeSql } from './columns.ts';
import { addField, checkInitial } from './fields.ts';
import { lockTable } from './store.ts';
import { tryHold } from './trial.ts';

/** Records a step: few enough that nobody waits for a row, many enough to be quick. */
const STEP = 5_000;

const tableOf = async (owner: Database | Transaction, id: string | null): Promise<TableDefinition> => {
  const table = (await loadDefinitions(owner)).tables.get(id ?? '');
  if (!table) throw notFound('This table');
  return table;
};

/** SQL that reads `value` (text) as a column type; lists come as JSON. */
const castSql = (value: string, type: string): string =>
  type.endsWith('[]')
    ? `CASE WHEN ${value} IS NOT NULL THEN ARRAY(SELECT jsonb_array_elements_text(${value}::jsonb))::${type} END`
    : `${value}::${type}`;

const asText = (value: Value): string | null =>
  value === null ? null : typeof value === 'object' ? JSON.stringify(value) : String(value);

/** Writes values of one column by record. As whoever the transaction's actor is. */
const writeColumn = (
  owner: Transaction,
  table: string,
  column: string,
  type: string,
  ids: readonly number[],
  values: readonly Value[],
): Promise<unknown> =>
  owner.raw(
    `UPDATE ${relation(table)} r SET ${quoted(column)} = ${castSql('v.value', type)} FROM unnest(?::bigint[], ?::text[]) AS v(id, value) WHERE r.id = v.id`,
    [[...ids], values.map(asText) as string[]],
  );

async function countRows(owner: Database, table: string): Promise<number> {
  const { rows } = await owner.raw<{ rows: { n: number }[] }>(`SELECT count(*) AS n FROM ${relation(table)}`);
  return rows[0]?.n ?? 0;
}

// ------------------------------------------------------------------------------------------------ a new field

interface BackfillPlan {
  readonly field: NewField;
  readonly backfill: Exclude<Backfill, { kind: 'nothing' }>;
}

/** What gives the new field's value for a record; throws what is wrong with the plan. */
function backfillOf(table: TableDefinition, { field, backfill }: BackfillPlan): (values: Values) => Value {
  const type = fieldType(field.type);
  const wrong = (message: string) => unacceptable([{ path: 'backfill', rule: 'backfill', message }]);
  const sound = (json: unknown): Value => {
    const read = type.accept(json, field.settings);
    if (!read.ok) throw wrong(read.message);
    const [broken] = read.value === null ? [] : type.check(read.value, field.settings);
    if (broken) throw wrong(broken.message);
    if (read.value === null && field.required)
      throw wrong(`${field.label} is required: a record would be left blank. Choose a value for all of them.`);
    return read.value;
  };
  if (backfill.kind === 'value') {
    const value = sound(backfill.value);
    return () => value;
  }
  const read = readExpression(backfill.expression, table.fields);
  if ('wrong' in read) throw wrong(read.wrong);
  return (values) => {
    const value = read.expression.evaluate(values);
    // A calculation gives what it gives: it is brought to the field's places and to text where that is what is kept.
    if (typeof value === 'number' && type.family === 'number')
      return sound(Number(value.toFixed(Number(field.settings.places ?? 0))));
    return sound(value !== null && type.family === 'text' ? String(value) : value);
  };
}

/** Checks what can be checked before the work begins, so that a mistake is told at once. */
export function holdBackfill(table: TableDefinition, plan: BackfillPlan): void {
  if (!fieldType(plan.field.type).editable || plan.field.type === 'links')
    throw unacceptable([
      { path: 'backfill', rule: 'backfill', message: 'Records that are there cannot be given this kind of value.' },
    ]);
  if (plan.field.unique && plan.backfill.kind === 'value')
    throw unacceptable([
      { path: 'backfill', rule: 'unique', message: 'The field is unique, so its records cannot all hold one value.' },
    ]);
  checkInitial(plan.field, 'field.initial');
  backfillOf(table, plan);
}

/** A new field whose records get a value or a calculation: nobody sees it until all of them have theirs. */
const backfillField: Worker = async (work) => {
  const { owner } = work.databases;
  const plan = work.plan as BackfillPlan;
  await dropPending(work);
  const before = await tableOf(owner, work.table);
  const compute = backfillOf(before, plan);
  const id = await asActor(owner, work.actor, async (transaction) => {
    const known = new Set(before.fields.map((one) => one.id));
    // Unique is made when the values are in.
    await addField(transaction, before.id, { ...plan.field, unique: false }, { pending: true });
    const { rows } = await transaction.raw<{ rows: { id: string }[] }>(
      'SELECT id FROM fiche.field WHERE table_id = ? AND pending',
      [before.id],
    );
    return rows.map((row) => row.id).find((one) => !known.has(one)) ?? '';
  });
  try {
    await fillColumn(work, before, id, fieldType(plan.field.type).column(plan.field.settings), compute);
    if (plan.field.unique) await makeUnique(owner, before.id, { ...plan.field, id });
    await asActor(owner, work.actor, async (transaction) => {
      await lockTable(transaction, before.id);
      if (plan.field.required)
        await transaction.raw(`ALTER TABLE ${relation(before.id)} ALTER COLUMN ${quoted(id)} SET NOT NULL`);
      await transaction('fiche.field')
        .where({ table_id: before.id, id })
        .update({ pending: false, unique: plan.field.unique, required: plan.field.required });
    });
  } catch (error) {
    await dropPending(work);
    throw asConstraint(error, `Two records would have the same ${plan.field.label}, which is unique.`);
  }
  return { field: id };
};

/** Takes away what an interrupted backfill left: a field that nobody has seen. */
async function dropPending(work: Work): Promise<void> {
  await asActor(work.databases.owner, work.actor, async (owner) => {
    const { rows } = await owner.raw<{ rows: { id: string }[] }>(
      'SELECT id FROM fiche.field WHERE table_id = ? AND pending',
      [work.table] as string[],
    );
    for (const { id } of rows) {
      await owner.raw(`ALTER TABLE ${relation(work.table ?? '')} DROP COLUMN ${quoted(id)}`);
      await owner('fiche.field')
        .where({ table_id: work.table ?? '', id })
        .delete();
    }
    if (rows.length > 0) await owner.raw('SELECT ledger.capture_records(?)', [work.table] as string[]);
  });
}

async function fillColumn(
  work: Work,
  table: TableDefinition,
  column: string,
  type: string,
  compute: (values: Values) => Value,
): Promise<void> {
  const { owner } = work.databases;
  const total = await countRows(owner, table.id);
  const columns = ['id', ...table.fields.map((field) => field.id)].map((one) => quoted(one)).join(', ');
  let [last, done] = [0, 0];
  for (;;) {
    const rows = await asActor(owner, work.actor, async (transaction) => {
      const found = await transaction.raw<{ rows: (Record<string, Value> & { id: number })[] }>(
        `SELECT ${columns} FROM ${relation(table.id)} WHERE id > ? ORDER BY id LIMIT ${STEP} FOR UPDATE`,
        [last],
      );
      const ids = found.rows.map((row) => row.id);
      if (ids.length > 0) await writeColumn(transaction, table.id, column, type, ids, found.rows.map(compute));
      return found.rows;
    });
    last = rows.at(-1)?.id ?? last;
    done += rows.length;
    await work.progress(done, total);
    if (rows.length < STEP) return;
  }
}

// ------------------------------------------------------------------------------------------------ another type

interface TypePlan {
  readonly field: string;
  readonly type: string;
  readonly settings: Settings;
  readonly unconverted: 'refuse' | 'blank';
}

/** Refuses a change of type that could never be done, before the work begins. */
export function holdTypeChange(table: TableDefinition, plan: TypePlan): void {
  const field = findField(table, plan.field);
  if (!field) throw notFound('This field');
  const wrong = (message: string) => unacceptable([{ path: 'type', rule: 'type', message }]);
  if (!isConvertible(field.type))
    throw wrong(`A ${typeOf(field).word} cannot become another type. Add a field, and retire this one.`);
  if (!isConvertible(plan.type))
    throw wrong(`A field with values cannot become a ${fieldType(plan.type).word}. Add a field, and retire this one.`);
  if (table.constraints.some((one) => constraintFields(one).includes(field.id)))
    throw wrong(`A rule of the table compares ${field.label}. Take the rule away first.`);
  if (plan.unconverted === 'blank' && field.required)
    throw wrong(`${field.label} is required, so values that do not convert cannot be blanked. Mend them first.`);
}

/**
 * Gives a field another type: a new column is filled beside the old one, which stays in use meanwhile, and takes its
 * place in a moment. Values that changed meanwhile are converted in that moment.
 */
const changeFieldType: Worker = async (work) => {
  const { owner } = work.databases;
  const plan = work.plan as TypePlan;
  const table = await tableOf(owner, work.table);
  holdTypeChange(table, plan);
  const field = findField(table, plan.field) as FieldDefinition;
  const next: FieldDefinition = { ...field, type: plan.type, settings: plan.settings };
  const column = `${field.id.slice(0, 50)}_next`;
  const type = typeOf(next).column(next.settings);
  const { rows: clock } = await owner.raw<{ rows: { now: string }[] }>('SELECT now()::text AS now');
  await dropNext(owner, work, column);
  try {
    await rebuilding(owner, work, async (transaction) => {
      await transaction.raw(`ALTER TABLE ${relation(table.id)} ADD COLUMN ${quoted(column)} ${type}`);
      await transaction.raw('SELECT ledger.capture_records(?)', [table.id]);
    });
    await convertAll(work, table, field, next, column);
    for (const sql of indexesOf(table.id, next, column, 'CONCURRENTLY')) await owner.raw(sql);
    await rebuilding(owner, work, async (transaction) => {
      await lockTable(transaction, table.id);
      await transaction.raw(`LOCK TABLE ${relation(table.id)} IN ACCESS EXCLUSIVE MODE`);
      await convertSome(
        transaction,
        table,
        field,
        next,
        column,
        'r.changed_at >= ?::timestamptz',
        [clock[0]?.now ?? ''],
        plan.unconverted,
      );
      await takePlace(transaction, table, field, next, column);
    });
  } catch (error) {
    await dropNext(owner, work, column);
    throw asConstraint(error, `Two records would have the same ${field.label}, which is unique.`);
  }
  return { field: field.id };
};

/** A transaction that moves values between columns without changing a record for its readers. */
const rebuilding = <T>(owner: Database, work: Work, doing: (transaction: Transaction) => Promise<T>): Promise<T> =>
  asActor(owner, work.actor, async (transaction) => {
    await transaction.raw("SELECT set_config('fiche.rebuilding', 'yes', true)");
    return doing(transaction);
  });

async function dropNext(owner: Database, work: Work, column: string): Promise<void> {
  await asActor(owner, work.actor, async (transaction) => {
    await transaction.raw(`ALTER TABLE ${relation(work.table ?? '')} DROP COLUMN IF EXISTS ${quoted(column)}`);
    await transaction.raw('SELECT ledger.capture_records(?)', [work.table] as string[]);
  });
}

async function convertAll(
  work: Work,
  table: TableDefinition,
  field: FieldDefinition,
  next: FieldDefinition,
  column: string,
): Promise<void> {
  const { owner } = work.databases;
  const { unconverted } = work.plan as TypePlan;
  const total = await countRows(owner, table.id);
  let [last, done] = [0, 0];
  for (;;) {
    const { rows } = await owner.raw<{ rows: { id: number }[] }>(
      `SELECT max(id) AS id, count(*) AS n FROM (SELECT id FROM ${relation(table.id)} WHERE id > ? ORDER BY id LIMIT ${STEP}) s`,
      [last],
    );
    const until = rows[0]?.id;
    if (until === undefined || until === null) return;
    await asActor(owner, work.actor, (transaction) =>
      convertSome(transaction, table, field, next, column, 'r.id > ? AND r.id <= ?', [last, until], unconverted),
    );
    last = until;
    done = Math.min(total, done + STEP);
    await work.progress(done, total);
  }
}

/** Converts the values of some records. Those that do not convert refuse the work, or are blanked, each with its line. */
async function convertSome(
  owner: Transaction,
  table: TableDefinition,
  field: FieldDefinition,
  next: FieldDefinition,
  column: string,
  where: string,
  values: readonly (string | number)[],
  unconverted: TypePlan['unconverted'],
): Promise<void> {
  const { rows } = await owner.raw<{ rows: { id: number; value: Value }[] }>(
    `SELECT r.id, r.${quoted(field.id)} AS value FROM ${relation(table.id)} r WHERE r.${quoted(field.id)} IS NOT NULL AND ${where} FOR UPDATE`,
    [...values],
  );
  const failed: number[] = [];
  const converted: { id: number; value: Value }[] = [];
  for (const { id, value } of rows) {
    const read = convert(value, field, next);
    if (read.ok) converted.push({ id, value: read.value });
    else failed.push(id);
  }
  if (failed.length > 0 && unconverted === 'refuse')
    throw new Refusal(
      422,
      `Some values of ${field.label} do not convert, the first in record #${failed[0]}. Mend them, or choose to blank them.`,
    );
  if (failed.length > 0) {
    await owner.raw("SELECT set_config('fiche.rebuilding', '', true)");
    await owner.raw(`UPDATE ${relation(table.id)} SET ${quoted(field.id)} = NULL WHERE id = ANY(?)`, [failed]);
  }
  await owner.raw("SELECT set_config('fiche.rebuilding', 'yes', true)");
  await writeColumn(
    owner,
    table.id,
    column,
    typeOf(next).column(next.settings),
    converted.map((one) => one.id),
    converted.map((one) => one.value),
  );
}

/** The new column under the old one's name, with its rights and indexes; the definition with its new type. */
async function takePlace(
  owner: Transaction,
  table: TableDefinition,
  field: FieldDefinition,
  next: FieldDefinition,
  column: string,
): Promise<void> {
  const place = relation(table.id);
  const name = quoted(field.id);
  await owner.raw(`ALTER TABLE ${place} DROP COLUMN ${name}`);
  await owner.raw(`ALTER TABLE ${place} RENAME COLUMN ${quoted(column)} TO ${name}`);
  for (const kind of ['unique', 'order'] as const)
    await owner.raw(
      `ALTER INDEX IF EXISTS data.${quoted(heldName(table.id, kind, column))} RENAME TO ${quoted(heldName(table.id, kind, field.id))}`,
    );
  await owner.raw(`GRANT INSERT (${name}), UPDATE (${name}) ON ${place} TO ${APP_ROLE}`);
  if (field.required) await owner.raw(`ALTER TABLE ${place} ALTER COLUMN ${name} SET NOT NULL`);
  await owner.raw('SELECT ledger.capture_records(?)', [table.id]);
  const { initial } = next;
  const keeps = initial?.kind !== 'value' || typeOf(next).accept(initial.value, next.settings).ok;
  await owner('fiche.field')
    .where({ table_id: table.id, id: field.id })
    .update({
      type: next.type,
      settings: JSON.stringify(next.settings),
      initial: keeps && initial !== null ? JSON.stringify(initial) : null,
    });
}

// ------------------------------------------------------------------------------------------------ what holds for all

/** Makes a field unique without keeping writers waiting. */
async function makeUnique(owner: Database, table: string, field: FieldDefinition): Promise<void> {
  const name = quoted(heldName(table, 'unique', field.id));
  await owner.raw(`DROP INDEX CONCURRENTLY IF EXISTS data.${name}`);
  await concurrently(
    owner,
    name,
    `CREATE UNIQUE INDEX CONCURRENTLY ${name} ON ${relation(table)} (${quoted(field.id)})`,
  );
}

/** Builds an index beside the writers; one that could not be built is taken away again. */
async function concurrently(owner: Database, name: string, sql: string): Promise<void> {
  try {
    await owner.raw(sql);
  } catch (error) {
    await owner.raw(`DROP INDEX CONCURRENTLY IF EXISTS data.${name}`);
    throw error;
  }
}

/** Lets something hold for every record from here on. Refused, with the first that break it, when some do already. */
const hold: Worker = async (work) => {
  const { owner } = work.databases;
  const plan = work.plan as Exclude<Hold, { kind: 'limits' }>;
  const { tables } = await loadDefinitions(owner);
  const table = await tableOf(owner, work.table);
  const { breaks, examples } = await tryHold(owner, tables, table.id, plan);
  if (breaks > 0) throw breaking(breaks, examples);
  try {
    if (plan.kind === 'required') await requireField(work, table, plan.field);
    else if (plan.kind === 'unique') {
      const field = findField(table, plan.field) as FieldDefinition;
      await makeUnique(owner, table.id, { ...field, unique: true });
      await asActor(owner, work.actor, (transaction) =>
        transaction('fiche.field').where({ table_id: table.id, id: field.id }).update({ unique: true }),
      );
    } else await makeConstraint(work, table, plan.constraint);
  } catch (error) {
    throw asConstraint(error, 'A record that was saved meanwhile breaks it. Look at the list again.');
  }
  return {};
};

const breaking = (breaks: number, examples: readonly { title: string }[]): Refusal =>
  new Refusal(
    422,
    `${breaks.toLocaleString('en-GB')} ${breaks === 1 ? 'record breaks' : 'records break'} this, the first: ${examples
      .slice(0, 3)
      .map((one) => one.title)
      .join(', ')}. Mend them first.`,
  );

/** NOT NULL, checked beforehand while writers go on, so that the table is locked for a moment only. */
async function requireField(work: Work, table: TableDefinition, id: string): Promise<void> {
  const { owner } = work.databases;
  const name = quoted(heldName(table.id, 'required', id));
  const place = relation(table.id);
  await owner.raw(`ALTER TABLE ${place} DROP CONSTRAINT IF EXISTS ${name}`);
  await owner.raw(`ALTER TABLE ${place} ADD CONSTRAINT ${name} CHECK (${quoted(id)} IS NOT NULL) NOT VALID`);
  try {
    await owner.raw(`ALTER TABLE ${place} VALIDATE CONSTRAINT ${name}`);
    await asActor(owner, work.actor, async (transaction) => {
      await transaction.raw(`ALTER TABLE ${place} ALTER COLUMN ${quoted(id)} SET NOT NULL`);
      await transaction('fiche.field').where({ table_id: table.id, id }).update({ required: true });
    });
  } finally {
    await owner.raw(`ALTER TABLE ${place} DROP CONSTRAINT IF EXISTS ${name}`);
  }
}

/** Lets the database hold a rule over several fields, here and now. As the owner, in a transaction. */
export async function holdConstraint(owner: Transaction, tableId: string, constraint: Constraint): Promise<void> {
  const { table } = await lockTable(owner, tableId);
  const name = quoted(heldName(table.id, 'rule', constraint.id));
  const place = relation(table.id);
  if (constraint.kind === 'unique') {
    const columns = constraint.fields.map((id) => quoted(id)).join(', ');
    await owner.raw(`CREATE UNIQUE INDEX IF NOT EXISTS ${name} ON ${place} (${columns})`);
  } else {
    const same = constraint.same.map((id) => `${quoted(id)} WITH =, `).join('');
    await owner.raw(
      `ALTER TABLE ${place} ADD CONSTRAINT ${name} EXCLUDE USING gist (${same}${rangeSql(table, constraint)} WITH &&) WHERE (archived_at IS NULL AND ${quoted(constraint.from)} IS NOT NULL)`,
    );
  }
  await owner('fiche.table')
    .where({ id: table.id })
    .update({
      constraints: JSON.stringify([...table.constraints.filter((one) => one.id !== constraint.id), constraint]),
    });
}

/** The index of a rule is built beside the writers first; a rule against overlaps locks its table while it is checked. */
async function makeConstraint(work: Work, table: TableDefinition, constraint: Constraint): Promise<void> {
  const { owner } = work.databases;
  if (constraint.kind === 'unique') {
    const name = quoted(heldName(table.id, 'rule', constraint.id));
    const columns = constraint.fields.map((id) => quoted(id)).join(', ');
    await concurrently(
      owner,
      name,
      `CREATE UNIQUE INDEX CONCURRENTLY IF NOT EXISTS ${name} ON ${relation(table.id)} (${columns})`,
    );
  }
  await asActor(owner, work.actor, (transaction) => holdConstraint(transaction, table.id, constraint));
}

/** Takes a rule over several fields away. As the owner, in a transaction. */
export async function removeConstraint(owner: Transaction, tableId: string, id: string): Promise<void> {
  const { table } = await lockTable(owner, tableId);
  const constraint = table.constraints.find((one) => one.id === id);
  if (!constraint) throw notFound('This rule');
  const name = quoted(heldName(tableId, 'rule', id));
  if (constraint.kind === 'unique') await owner.raw(`DROP INDEX IF EXISTS data.${name}`);
  else await owner.raw(`ALTER TABLE ${relation(tableId)} DROP CONSTRAINT IF EXISTS ${name}`);
  await owner('fiche.table')
    .where({ id: tableId })
    .update({ constraints: JSON.stringify(table.constraints.filter((one) => one.id !== id)) });
}

/** What the database refused, in words; any other error as it is. */
const asConstraint = (error: unknown, words: string): unknown =>
  ['23505', '23502', '23514', '23P01'].includes((error as { code?: string }).code ?? '')
    ? new Refusal(422, words)
    : error;

/** The work on the structure of tables, by kind. */
export const structureWork: Readonly<Record<string, Worker>> = { backfillField, changeFieldType, hold };
