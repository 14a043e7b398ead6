import type { ImportCounts } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';
import { quoted, relation } from '@fiche/core/queries';
import type { TableDefinition } from '@fiche/core/tables';
import { definitionsFor } from '../access/index.ts';
import { constraintProblem } from '../constraints/index.ts';
import type { Transaction } from '../database/index.ts';
import { loadDefinitions, withinCabinet } from '../definitions/index.ts';
import { announce, MANY } from '../events/index.ts';
import { Refusal } from '../http/index.ts';
import { notifyImported } from '../messages/index.ts';
import { savingRecords } from '../ripples/index.ts';
import type { MailSettings } from '../services.ts';
import { countAssigned, forbiddenRows, stagedFields } from '../staging/index.ts';
import { addFields, createTable } from '../tables/index.ts';
import type { Work, Worker } from '../tasks/index.ts';
import { requireImportRights } from './rights.ts';
import { stagingOf } from './staged.ts';
import { findImport, type ImportRow } from './store.ts';
import { targetsOf } from './targets.ts';

/** Rows a statement: each has its lines captured at once. */
const STEP = 20_000;

/** Writes the rows that were checked, in one transaction: all of them are there, or none. */
export const writeImport =
  (mail: MailSettings): Worker =>
  async (work) => {
    const { app, owner } = work.databases;
    const { id, rows } = work.plan as { id: number; rows: 'all' | 'good' };
    const row = await findImport(app, work.cabinet, id);
    // Written before its server could say so.
    if (row.state === 'written') return { table: row.table_id, ...row.counts };
    if (row.state !== 'checked' || !row.plan || !row.counts) throw new Refusal(409, say('Check the file first.'));
    if (rows === 'all' && row.counts.bad > 0)
      throw new Refusal(
        422,
        say('{bad} rows cannot be imported. Correct them, or import the good ones only.', {
          bad: formatCount(row.counts.bad),
        }),
      );
    const reason = row.plan.reason ?? undefined;
    const through = { kind: 'import', label: row.file, id, reason } as const;
    const definitions = withinCabinet(await loadDefinitions(app), work.cabinet);
    const { tables } = definitions;
    const actor = { name: work.actor.name, through };
    const saver = {
      actor,
      account: work.actor.name,
      definitions: await definitionsFor(app, work.cabinet, work.actor.name),
      mail,
    };
    const { table: known } = targetsOf(tables, work.cabinet, row.plan);
    const written = await savingRecords(owner, saver, async (transaction) => {
      await checkStaging(transaction, row);
      return write(transaction, work, row);
    }).catch((error: unknown) => {
      throw tooWide(error) ?? constraintProblem(known, error) ?? error;
    });
    await owner.raw(`DROP TABLE IF EXISTS ${stagingOf(id)}`);
    return written;
  };

/** A row that PostgreSQL cannot hold: more than 1,600 columns, or more than fits into one page. */
function tooWide(error: unknown): Refusal | undefined {
  const { code } = error as { code?: string };
  return code === '54011' || code === '54000'
    ? new Refusal(
        422,
        say(
          'A row has more than one record can hold: too many columns, or too many long ones. Let some columns go nowhere, or divide the file into two tables.',
        ),
      )
    : undefined;
}

/**
 * Checks that the rows that were checked are still there, all of them. Their table is not logged, for speed: after a crash of the
 * database it is empty.
 */
async function checkStaging(transaction: Transaction, { id, counts }: ImportRow): Promise<void> {
  const again = say('The rows that were checked are gone: the database was restarted. Check the file again.');
  const { rows: there } = await transaction.raw<{ rows: { name: string | null }[] }>('SELECT to_regclass(?) AS name', [
    stagingOf(id),
  ]);
  if (!there[0]?.name) throw new Refusal(409, again);
  const { rows } = await transaction.raw<{ rows: { add: number; change: number; skip: number }[] }>(
    `SELECT count(*) FILTER (WHERE "action#" = 'add') AS add, count(*) FILTER (WHERE "action#" = 'change') AS change, count(*) FILTER (WHERE "action#" = 'skip') AS skip FROM ${stagingOf(id)}`,
  );
  const [staged] = rows;
  if (staged?.add !== counts?.add || staged?.change !== counts?.change || staged?.skip !== counts?.skip)
    throw new Refusal(409, again);
}

/** Checks that the table, and each record that the file changes, are as they were when the file was checked. */
async function checkNothingMoved(
  transaction: Transaction,
  { id, plan }: ImportRow,
  table: TableDefinition,
): Promise<void> {
  if (plan?.into.kind !== 'table') return;
  const again = say('Check the file again.');
  if (plan.revision !== table.revision)
    throw new Refusal(409, say('{label} has been changed since the check. {again}', { label: table.label, again }));
  await transaction.raw(
    `SELECT r.id FROM ${stagingOf(id)} s JOIN ${relation(table.id)} r ON r.id = s."record#" WHERE s."action#" = 'change' ORDER BY r.id FOR UPDATE OF r`,
  );
  const moved = await transaction.raw<{ rows: { n: number }[] }>(
    `SELECT count(*) AS n FROM ${stagingOf(id)} s LEFT JOIN ${relation(table.id)} r ON r.id = s."record#" WHERE s."action#" = 'change' AND r.version IS DISTINCT FROM s."version#"`,
  );
  const n = moved.rows[0]?.n ?? 0;
  if (n > 0)
    throw new Refusal(
      409,
      say('{n} of the records that the file changes have been changed since the check. {again}', { n, again }),
    );
}

/** Checks that the role of whoever imports still allows what the check found allowed. Throws 403 and 409. */
async function checkStillAllowed(
  transaction: Transaction,
  { cabinet, actor }: Work,
  { id, plan }: ImportRow,
  table: TableDefinition,
): Promise<void> {
  const definitions = await definitionsFor(transaction, cabinet, actor.name);
  if (plan) requireImportRights(cabinet, plan, definitions);
  if (plan?.into.kind !== 'table') return;
  for (const { where } of forbiddenRows(definitions, table, relation(table.id))) {
    const { rows } = await transaction.raw<{ rows: unknown[] }>(
      `SELECT FROM ${stagingOf(id)} s WHERE ${where} LIMIT 1`,
    );
    if (rows.length > 0) throw new Refusal(409, say('Your rights have changed since the check. Check the file again.'));
  }
}

/** Writes the staged rows, and with them the counts of what was written. */
async function write(
  transaction: Transaction,
  work: Work,
  row: ImportRow,
): Promise<ImportCounts & Record<string, unknown>> {
  const { plan, id, counts } = row;
  if (!plan || !counts) throw new Error('An import without a plan');
  const before = withinCabinet(await loadDefinitions(transaction), row.cabinet).tables;
  const { table: known, targets } = targetsOf(before, row.cabinet, plan);
  await checkNothingMoved(transaction, row, known);
  await checkStillAllowed(transaction, work, row, known);
  let table = plan.into.kind === 'table' ? plan.into.table : '';
  if (plan.into.kind === 'new') {
    const made = await createTable(transaction, row.cabinet, plan.into.label, `Imported from ${row.file}.`);
    table = made.id;
    await addFields(
      transaction,
      table,
      targets.map((one) => one.field),
      { held: true },
    );
  }
  const staging = stagingOf(id);
  // A new record gets all its fields, defaults among them; a change touches only what the file gives.
  const whole = stagedFields(known).map((field) => quoted(field.id));
  const given = targets.map(({ field }) => quoted(field.id));
  const total = counts.add + counts.change;
  const { rows: span } = await transaction.raw<{ rows: { first: number | null; last: number | null }[] }>(
    `SELECT min("row#") AS first, max("row#") AS last FROM ${staging}`,
  );
  const [{ first, last } = { first: null, last: null }] = span;
  const fields = targets.map((one) => one.field);
  const assigned = await countAssigned(transaction, staging, table, fields);
  let [added, changed] = [0, 0];
  for (let from = first ?? 1; last !== null && from <= last; from += STEP) {
    const within = [from, from + STEP];
    const some = await transaction.raw<{ rowCount: number }>(
      `INSERT INTO ${relation(table)} (${whole.join(', ')}) SELECT ${whole.join(', ')} FROM ${staging} WHERE "action#" = 'add' AND "row#" >= ? AND "row#" < ? ORDER BY "row#"`,
      within,
    );
    const others = await transaction.raw<{ rowCount: number }>(
      `UPDATE ${relation(table)} r SET ${given.map((column) => `${column} = s.${column}`).join(', ')} FROM ${staging} s WHERE s."action#" = 'change' AND r.id = s."record#" AND s."row#" >= ? AND s."row#" < ?`,
      within,
    );
    added += some.rowCount;
    changed += others.rowCount;
    await work.progress(added + changed, total);
  }
  await notifyImported(transaction, work.actor.name, row.cabinet, table, assigned);
  await announce(transaction, work.actor.name, table, MANY);
  // A change that changes nothing is no change: such a row counts as skipped.
  const written = { ...counts, add: added, change: changed, skip: counts.skip + counts.change - changed };
  await transaction.raw(
    `UPDATE fiche.import SET state = 'written', table_id = ?, counts = ?::jsonb || '{"written": 1}' WHERE id = ?`,
    [table, JSON.stringify(written), id],
  );
  return { ...written, table };
}
