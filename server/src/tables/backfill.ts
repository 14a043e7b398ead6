import type { Backfill } from '@fiche/core/api';
import { readExpression } from '@fiche/core/expressions';
import { fieldType, linksSeveral, type Value, type Values } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { quoted, relation } from '@fiche/core/queries';
import type { NewField, TableDefinition } from '@fiche/core/tables';
import { asActor, type Transaction } from '../database/index.ts';
import { unacceptable } from '../http/index.ts';
import type { Work, Worker } from '../tasks/index.ts';
import { addField, checkInitial } from './addField.ts';
import { enforceCombinations } from './enforceCombinations.ts';
import { lockTable } from './store.ts';
import { asConstraint, blankColumn, countRows, makeUnique, STEP, tableOf, writeColumn } from './values.ts';

interface BackfillPlan {
  readonly field: NewField;
  readonly backfill: Exclude<Backfill, { kind: 'nothing' }>;
}

/** A column to be filled, and what gives its value for a record. */
interface Fill {
  readonly table: TableDefinition;
  readonly column: string;
  readonly type: string;
  readonly compute: (values: Values) => Value;
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
      throw wrong(
        say('{label} is required: a record would be left blank. Choose a value for all of them.', {
          label: field.label,
        }),
      );
    return read.value;
  };
  if (backfill.kind === 'value') {
    const value = sound(backfill.value);
    return () => value;
  }
  const read = readExpression(backfill.expression, table.fields);
  if ('wrong' in read) throw wrong(read.wrong);
  return (values) => {
    const value = read.expression.evaluate((path) => values[path] ?? null, civilNow());
    // A calculation gives what it gives: it is brought to the field's places and to text where that is what is kept.
    if (typeof value === 'number' && type.family === 'number')
      return sound(Number(value.toFixed(Number(field.settings.places ?? 0))));
    return sound(value !== null && type.family === 'text' ? String(value) : value);
  };
}

/** Checks what can be checked before the work begins, so that a mistake is told at once. */
export function checkBackfill(table: TableDefinition, plan: BackfillPlan): void {
  if (!fieldType(plan.field.type).editable || linksSeveral(plan.field))
    throw unacceptable([
      {
        path: 'backfill',
        rule: 'backfill',
        message: say('Records that are there cannot be given this kind of value.'),
      },
    ]);
  if (plan.field.unique && plan.backfill.kind === 'value')
    throw unacceptable([
      {
        path: 'backfill',
        rule: 'unique',
        message: say('The field is unique, so its records cannot all hold one value.'),
      },
    ]);
  checkInitial(plan.field, 'field.initial');
  backfillOf(table, plan);
}

/** A new field whose records get a value or a calculation: nobody sees it until all of them have theirs. */
export const backfillField: Worker = async (work) => {
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
    const type = fieldType(plan.field.type).column(plan.field.settings);
    const fill = { table: before, column: id, type, compute };
    const last = await fillColumn(work, fill);
    if (plan.field.unique) await makeUnique(owner, before.id, { ...plan.field, id });
    await asActor(owner, work.actor, async (transaction) => {
      await lockTable(transaction, before.id);
      // Records that were added while the others were filled; from here on the field is everybody's.
      await transaction.raw(`LOCK TABLE ${relation(before.id)} IN SHARE ROW EXCLUSIVE MODE`);
      await fillSome(transaction, fill, last);
      if (plan.field.required)
        await transaction.raw(`ALTER TABLE ${relation(before.id)} ALTER COLUMN ${quoted(id)} SET NOT NULL`);
      await transaction('fiche.field')
        .where({ table_id: before.id, id })
        .update({ pending: false, unique: plan.field.unique, required: plan.field.required });
      if (before.kind === 'list') await enforceCombinations(transaction, before.id);
    });
  } catch (error) {
    await dropPending(work);
    throw asConstraint(
      error,
      say('Two records would have the same {label}, which is unique.', { label: plan.field.label }),
    );
  }
  return { field: id };
};

/** Takes away what an interrupted backfill left: a field that nobody has seen. Its values go with a line each. */
async function dropPending(work: Work): Promise<void> {
  const { rows } = await work.databases.owner.raw<{ rows: { id: string }[] }>(
    'SELECT id FROM fiche.field WHERE table_id = ? AND pending',
    [work.table] as string[],
  );
  for (const { id } of rows) await blankColumn(work, work.table ?? '', id);
  await asActor(work.databases.owner, work.actor, async (owner) => {
    for (const { id } of rows) {
      await owner.raw(`UPDATE ${relation(work.table ?? '')} SET ${quoted(id)} = NULL WHERE ${quoted(id)} IS NOT NULL`);
      await owner.raw(`ALTER TABLE ${relation(work.table ?? '')} DROP COLUMN ${quoted(id)}`);
      await owner('fiche.field')
        .where({ table_id: work.table ?? '', id })
        .delete();
    }
    if (rows.length > 0) await owner.raw('SELECT ledger.capture_records(?)', [work.table] as string[]);
  });
}

/** Fills the column of every record, step by step; returns the last record that was there. */
async function fillColumn(work: Work, fill: Fill): Promise<number> {
  const { owner } = work.databases;
  const total = await countRows(owner, fill.table.id);
  let [last, done] = [0, 0];
  for (;;) {
    const ids = await asActor(owner, work.actor, (transaction) => fillSome(transaction, fill, last, STEP));
    last = ids.at(-1) ?? last;
    done += ids.length;
    await work.progress(done, total);
    if (ids.length < STEP) return last;
  }
}

/** Fills the column of the next records after one; all of them without a `most`. */
async function fillSome(owner: Transaction, { table, column, type, compute }: Fill, after: number, most?: number) {
  const columns = ['id', ...table.fields.map((field) => field.id)].map((one) => quoted(one)).join(', ');
  const found = await owner.raw<{ rows: (Record<string, Value> & { id: number })[] }>(
    `SELECT ${columns} FROM ${relation(table.id)} WHERE id > ? ORDER BY id ${most === undefined ? '' : `LIMIT ${most}`} FOR UPDATE`,
    [after],
  );
  const ids = found.rows.map((row) => row.id);
  if (ids.length > 0) await writeColumn(owner, table.id, column, type, ids, found.rows.map(compute));
  return ids;
}
