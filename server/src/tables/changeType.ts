import { fieldType, isConvertible, type Value, withArticle } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import {
  constraintFields,
  type FieldDefinition,
  type FieldId,
  findField,
  initialMisfit,
  linkedTable,
  type TableDefinition,
  typeOf,
} from '@fiche/core/tables';
import { heldName } from '../constraints/index.ts';
import { APP_ROLE, asActor, type Database, type Transaction } from '../database/index.ts';
import { loadDefinitions, withinCabinet } from '../definitions/index.ts';
import { notFound, Refusal, unacceptable } from '../http/index.ts';
import type { Work, Worker } from '../tasks/index.ts';
import { indexesOf, refuseCircles } from './columns.ts';
import { type Converter, converterTo, isReachable, type NewType } from './converter.ts';
import { enforceCombinations } from './enforceCombinations.ts';
import { lockTable } from './store.ts';
import { asConstraint, blankColumn, countRows, STEP, tableOf, writeColumn } from './values.ts';

interface TypePlan extends NewType {
  readonly field: FieldId;
  readonly unconverted: 'refuse' | 'blank';
}

/** Refuses a change of type that could never be done, before the work begins. */
export function checkTypeChange(table: TableDefinition, plan: TypePlan): void {
  const field = findField(table, plan.field);
  if (!field) throw notFound(say('This field'));
  const wrong = (message: string) => unacceptable([{ path: 'type', rule: 'type', message }]);
  if (!isConvertible(field.type))
    throw wrong(
      say('A {word} cannot become another type. Add a field, and archive this one.', { word: say(typeOf(field).word) }),
    );
  if (!isReachable(plan.type))
    throw wrong(
      say('A field with values cannot become {type}. Add a field, and archive this one.', {
        type: withArticle(fieldType(plan.type)),
      }),
    );
  if (table.constraints.some((one) => constraintFields(one).includes(field.id)))
    throw wrong(say('A rule of the table compares {label}. Remove the rule first.', { label: field.label }));
  if (plan.unconverted === 'blank' && field.required)
    throw wrong(
      say('{label} is required, so values that do not convert cannot be blanked. Correct them first.', {
        label: field.label,
      }),
    );
}

/**
 * Gives a field another type: a new column is filled beside the old one, which stays in use meanwhile, and takes its
 * place in a moment. Values that changed meanwhile are converted in that moment.
 */
export const changeFieldType: Worker = async (task) => {
  // Its lines name the task, so that they can be told from those of people who write meanwhile.
  const work = { ...task, actor: { ...task.actor, through: { ...task.actor.through, id: task.id } } };
  const { owner } = work.databases;
  const plan = work.plan as TypePlan;
  const table = await tableOf(owner, work.table);
  checkTypeChange(table, plan);
  const field = findField(table, plan.field) as FieldDefinition;
  const next: FieldDefinition = { ...field, type: plan.type, settings: plan.settings };
  const column = `${field.id.slice(0, 50)}_next`;
  const type = typeOf(next).column(next.settings);
  // Every transaction that was not over when the work began has a number from here on, whenever it began.
  const { rows: begun } = await owner.raw<{ rows: { first: string }[] }>(
    'SELECT pg_snapshot_xmin(pg_current_snapshot())::text AS first',
  );
  await dropNext(owner, work, field.id, column);
  try {
    await asActor(owner, work.actor, async (transaction) => {
      await transaction.raw(`ALTER TABLE ${relation(table.id)} ADD COLUMN ${quoted(column)} ${type}`);
      // Capture tells the values of the new column under the name of the one whose place it takes.
      await transaction.raw(`COMMENT ON COLUMN ${relation(table.id)}.${quoted(column)} IS 'converts ${field.id}'`);
      await transaction.raw('SELECT ledger.capture_records(?)', [table.id]);
    });
    const { tables } = withinCabinet(await loadDefinitions(owner), table.cabinet);
    const converter = converterTo(tables, field, plan);
    await convertAll(work, table, field, next, column, converter);
    for (const sql of indexesOf(table.id, next, column, 'CONCURRENTLY')) await owner.raw(sql);
    await bindLink(owner, table, next, column);
    await asActor(owner, work.actor, async (transaction) => {
      await lockTable(transaction, table.id);
      await transaction.raw(`LOCK TABLE ${relation(table.id)} IN ACCESS EXCLUSIVE MODE`);
      await convertSome(
        transaction,
        table,
        field,
        next,
        column,
        `r.id IN (SELECT l.record::bigint FROM ledger.line l WHERE l.place = ? AND l.transaction >= ?::bigint
           AND NOT (coalesce(l.through->>'kind', '') = 'tables' AND coalesce(l.through->>'id', '') = ?))`,
        [`data.${table.id}`, begun[0]?.first ?? '0', String(work.id)],
        plan.unconverted,
        converter,
      );
      await takePlace(transaction, table, field, next, column);
    });
  } catch (error) {
    await dropNext(owner, work, field.id, column);
    throw asConstraint(error, say('Two records would have the same {label}, which is unique.', { label: field.label }));
  }
  return { field: field.id };
};

/** Takes away the column that was being filled. What its lines said is taken back by lines of their own. */
async function dropNext(owner: Database, work: Work, field: FieldId, column: string): Promise<void> {
  const [table, place] = [work.table ?? '', relation(work.table ?? '')];
  const { rows } = await owner.raw<{ rows: unknown[] }>(
    "SELECT 1 FROM pg_attribute WHERE attrelid = ?::regclass AND attname = ? AND NOT attisdropped AND col_description(attrelid, attnum) LIKE 'converts %'",
    [place, column],
  );
  if (rows.length > 0) {
    const unlike = `to_jsonb(${quoted(column)}) IS DISTINCT FROM to_jsonb(${quoted(field)})`;
    await blankColumn(work, table, column, unlike);
  }
  await asActor(owner, work.actor, async (transaction) => {
    await transaction.raw(`ALTER TABLE ${place} DROP COLUMN IF EXISTS ${quoted(column)}`);
    await transaction.raw('SELECT ledger.capture_records(?)', [table]);
  });
}

async function convertAll(
  work: Work,
  table: TableDefinition,
  field: FieldDefinition,
  next: FieldDefinition,
  column: string,
  converter: Converter,
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
      convertSome(
        transaction,
        table,
        field,
        next,
        column,
        'r.id > ? AND r.id <= ?',
        [last, until],
        unconverted,
        converter,
      ),
    );
    last = until;
    done = Math.min(total, done + STEP);
    await work.progress(done, total);
  }
}

/**
 * Converts the values of some records, blank ones too: they may have been blanked since. Each value that reads differently
 * afterwards is a change of its record, with its line. Those that do not convert refuse the work, or are blanked.
 */
async function convertSome(
  owner: Transaction,
  table: TableDefinition,
  field: FieldDefinition,
  next: FieldDefinition,
  column: string,
  where: string,
  values: readonly (string | number)[],
  unconverted: TypePlan['unconverted'],
  converter: Converter,
): Promise<void> {
  const { rows } = await owner.raw<{ rows: { id: number; value: Value }[] }>(
    `SELECT r.id, r.${quoted(field.id)} AS value FROM ${relation(table.id)} r WHERE ${where} FOR UPDATE`,
    [...values],
  );
  const failed: number[] = [];
  const converted: { id: number; value: Value }[] = [];
  const read = await converter(
    owner,
    rows.map((row) => row.value),
  );
  for (const { id, value } of rows) {
    const made = read(value);
    if (made.ok) converted.push({ id, value: made.value });
    else failed.push(id);
  }
  if (failed.length > 0 && unconverted === 'refuse')
    throw new Refusal(
      422,
      say(
        'Some values of {label} do not convert, the first in record #{failed}. Correct them, or choose to blank them.',
        { label: field.label, failed: failed[0] ?? '' },
      ),
    );
  if (failed.length > 0)
    await owner.raw(`UPDATE ${relation(table.id)} SET ${quoted(field.id)} = NULL WHERE id = ANY(?)`, [failed]);
  const write = (is: 'yes' | 'no'): Promise<unknown> =>
    writeColumn(
      owner,
      table.id,
      column,
      typeOf(next).column(next.settings),
      converted.map((one) => one.id),
      converted.map((one) => one.value),
      { column: field.id, is },
    );
  // A value that reads the same is only moved: no stamp and no line.
  await owner.raw("SELECT set_config('fiche.rebuilding', 'yes', true)");
  await write('no');
  await owner.raw("SELECT set_config('fiche.rebuilding', '', true)");
  await write('yes');
}

/** The foreign key and the index of a column that became a link, made while people go on writing. */
async function bindLink(owner: Database, table: TableDefinition, next: FieldDefinition, column: string): Promise<void> {
  const target = linkedTable(next);
  if (target === undefined) return;
  const [place, name] = [relation(table.id), quoted(column)];
  const key = quoted(heldName(table.id, 'link', column));
  await owner.raw(`CREATE INDEX CONCURRENTLY ON ${place} (${name})`);
  await owner.raw(
    `ALTER TABLE ${place} ADD CONSTRAINT ${key} FOREIGN KEY (${name}) REFERENCES ${relation(target)} ON DELETE RESTRICT NOT VALID`,
  );
  await owner.raw(`ALTER TABLE ${place} VALIDATE CONSTRAINT ${key}`);
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
  await owner.raw(`COMMENT ON COLUMN ${place}.${quoted(column)} IS NULL`);
  await owner.raw(`ALTER TABLE ${place} DROP COLUMN ${name}`);
  await owner.raw(`ALTER TABLE ${place} RENAME COLUMN ${quoted(column)} TO ${name}`);
  for (const kind of ['unique', 'order'] as const)
    await owner.raw(
      `ALTER INDEX IF EXISTS data.${quoted(heldName(table.id, kind, column))} RENAME TO ${quoted(heldName(table.id, kind, field.id))}`,
    );
  await owner.raw(`GRANT INSERT (${name}), UPDATE (${name}) ON ${place} TO ${APP_ROLE}`);
  if (field.required) await owner.raw(`ALTER TABLE ${place} ALTER COLUMN ${name} SET NOT NULL`);
  await owner.raw('SELECT ledger.capture_records(?)', [table.id]);
  await refuseCircles(owner, table.id, next);
  const { initial } = next;
  const keeps = initialMisfit(next) === undefined;
  await owner('fiche.field')
    .where({ table_id: table.id, id: field.id })
    .update({
      type: next.type,
      settings: JSON.stringify(next.settings),
      initial: keeps && initial !== null ? JSON.stringify(initial) : null,
    });
  if (table.kind === 'list') await enforceCombinations(owner, table.id);
}
