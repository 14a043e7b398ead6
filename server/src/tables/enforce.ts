import type { Hold } from '@fiche/core/api';
import { say, sayCount } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import {
  type Constraint,
  type FieldDefinition,
  findField,
  type TableDefinition,
  type TableId,
} from '@fiche/core/tables';
import { constraintSql, heldName } from '../constraints/index.ts';
import { asActor, type Transaction } from '../database/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import type { Work, Worker } from '../tasks/index.ts';
import { lockTable } from './store.ts';
import { tryHold } from './trial.ts';
import { asConstraint, concurrently, makeUnique, tableOf } from './values.ts';

/** Lets something hold for every record from here on. Refused, with the first that break it, when some do already. */
export const hold: Worker = async (work) => {
  const { owner } = work.databases;
  const plan = work.plan as Exclude<Hold, { kind: 'limits' | 'narrowing' }>;
  const { tables } = await loadDefinitions(owner);
  const table = await tableOf(owner, work.table);
  if (isEnforced(table, plan)) return {};
  const { breaks, examples } = await tryHold(owner, tables, table.id, plan, null);
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
    throw asConstraint(error, say('A record that was saved meanwhile breaks it. Look at the list again.'));
  }
  return {};
};

/** True when a server that could not say so any more has done it. */
function isEnforced(table: TableDefinition, plan: Exclude<Hold, { kind: 'limits' | 'narrowing' }>): boolean {
  if (plan.kind === 'constraint') return table.constraints.some((one) => one.id === plan.constraint.id);
  return findField(table, plan.field)?.[plan.kind] === true;
}

const breaking = (breaks: number, examples: readonly { title: string }[]): Refusal =>
  new Refusal(
    422,
    sayCount(
      breaks,
      '{count} record breaks this, the first: {list}. Correct them first.',
      '{count} records break this, the first: {list}. Correct them first.',
      {
        list: examples
          .slice(0, 3)
          .map((one) => one.title)
          .join(', '),
      },
    ),
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
export async function enforceConstraint(owner: Transaction, tableId: TableId, constraint: Constraint): Promise<void> {
  const { table } = await lockTable(owner, tableId);
  const name = heldName(table.id, 'rule', constraint.id);
  for (const statement of constraintSql(constraint).hold(table, constraint, name)) await owner.raw(statement);
  await owner('fiche.table')
    .where({ id: table.id })
    .update({
      constraints: JSON.stringify([...table.constraints.filter((one) => one.id !== constraint.id), constraint]),
    });
}

/** The index of a rule is built beside the writers first; only what holds the rule locks its table. */
async function makeConstraint(work: Work, table: TableDefinition, constraint: Constraint): Promise<void> {
  const { owner } = work.databases;
  const name = heldName(table.id, 'rule', constraint.id);
  const index = constraintSql(constraint).index(table, constraint, name);
  if (index !== undefined) await concurrently(owner, quoted(name), index);
  await asActor(owner, work.actor, (transaction) => enforceConstraint(transaction, table.id, constraint));
}

/** Takes a rule over several fields away. As the owner, in a transaction. */
export async function removeConstraint(owner: Transaction, tableId: TableId, id: string): Promise<void> {
  const { table } = await lockTable(owner, tableId);
  const constraint = table.constraints.find((one) => one.id === id);
  if (!constraint) throw notFound(say('This rule'));
  for (const statement of constraintSql(constraint).release(table, heldName(tableId, 'rule', id)))
    await owner.raw(statement);
  await owner('fiche.table')
    .where({ id: tableId })
    .update({ constraints: JSON.stringify(table.constraints.filter((one) => one.id !== id)) });
}
