import { keptPlan } from '@fiche/core/changes';
import { say, sayLater } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import { findField, type RecordId, type TableDefinition, type TableId } from '@fiche/core/tables';
import { definitionsFor } from '../access/index.ts';
import { constraintProblem } from '../constraints/index.ts';
import { type Actor, setActor, type Transaction } from '../database/index.ts';
import { announce } from '../events/index.ts';
import { Refusal } from '../http/index.ts';
import { notifyImported } from '../messages/index.ts';
import { savingRecords } from '../ripples/index.ts';
import type { MailSettings } from '../services.ts';
import { countAssigned, forbiddenRows } from '../staging/index.ts';
import type { Work, Worker } from '../tasks/index.ts';
import { actionOf, openPlan } from './check.ts';
import { findPlan, isPutBack, type PlanRow, stagingOfChange } from './plans.ts';
import type { ChangeSource } from './source.ts';

/** Records a statement: each has its lines captured at once. */
const STEP = 20_000;
/** Open cards of so many records are told at once that they have changed. */
const ANNOUNCED = 500;

const AGAIN = sayLater('Check the change again.');

interface Writing {
  readonly work: Work;
  readonly row: PlanRow;
  readonly table: TableDefinition;
  readonly kind: ChangeSource['kind'];
  readonly actor: Actor;
  /** What each rule that asks says, by its id. */
  readonly rules: ReadonlyMap<string, string>;
}

/** Writes the records that were checked, in one transaction: all of them, or those that can be, or none. */
export const writeChange =
  (mail: MailSettings): Worker =>
  async (work) => {
    const { app, owner } = work.databases;
    const { id, records } = work.plan as { id: number; records: 'all' | 'good' };
    const row = await findPlan(app, work.table ?? '', work.actor.name, id);
    // Written before its server could say so.
    if (row.state === 'written') return { ...row.counts, id };
    if (row.state !== 'checked' || !row.counts) throw new Refusal(409, say('Check the change first.'));
    if (records === 'all' && row.counts.refused > 0)
      throw new Refusal(
        422,
        say('{refused} records cannot be changed. Change the others only, or none.', { refused: row.counts.refused }),
      );
    const { definitions, table, form, source } = await openPlan(app, row);
    if (row.tableRevision !== table.revision)
      throw new Refusal(
        409,
        say('{label} has been changed since the check. {again}', { label: table.label, again: say(AGAIN) }),
      );
    const label = isPutBack(row.plan) ? `${table.label}, put back` : table.label;
    const actor = { name: work.actor.name, through: { kind: 'change', label, id } } as const;
    const rules = new Map(form.rules.map((rule) => [rule.id, rule.message]));
    const writing: Writing = { work, row, table, kind: source.kind, actor, rules };
    const saver = { actor, account: row.account, definitions, mail };
    const written = await savingRecords(owner, saver, (transaction) => write(transaction, writing, records)).catch(
      (error: unknown) => {
        throw constraintProblem(table, error) ?? error;
      },
    );
    await owner.raw(`DROP TABLE IF EXISTS ${stagingOfChange(id)}`);
    return { ...written, id };
  };

async function write(transaction: Transaction, writing: Writing, records: 'all' | 'good') {
  const { work, row, table, kind } = writing;
  const staging = stagingOfChange(row.id);
  await requireStaged(transaction, row);
  const moved = await leaveMoved(transaction, staging, table.id);
  if (moved > 0 && records === 'all')
    throw new Refusal(
      409,
      say('{moved} of the records have been changed since the check. {again}', { moved, again: say(AGAIN) }),
    );
  await requireStillAllowed(transaction, writing);
  const columns = (row.columns ?? []).flatMap((id) => findField(table, id) ?? []);
  const assigned = await countAssigned(transaction, staging, table.id, columns);
  const set =
    kind === 'set'
      ? columns.map(({ id }) => `${quoted(id)} = s.${quoted(id)}`).join(', ')
      : `archived_at = ${kind === 'archive' ? 'now()' : 'NULL'}`;
  const changed = set === '' ? 0 : await updateStaged(transaction, writing, staging, set);
  await transaction.raw(
    `INSERT INTO fiche.origin (table_id, record, origins) SELECT ?, "record#", "origins#" FROM ${staging} WHERE "origins#" IS NOT NULL
     ON CONFLICT (table_id, record) DO UPDATE SET origins = excluded.origins`,
    [table.id],
  );
  await notifyImported(transaction, work.actor.name, row.cabinet, table.id, assigned);
  await announceChanged(transaction, work.actor.name, table.id, staging);
  const counts = { found: 0, same: 0, refused: 0, ...row.counts, change: changed };
  if (moved > 0) counts.refused += moved;
  await transaction.raw(
    'INSERT INTO fiche.change (id, cabinet, table_id, what, counts, put_back) VALUES (?, ?, ?, ?, ?, ?)',
    [
      row.id,
      row.cabinet,
      table.id,
      JSON.stringify(isPutBack(row.plan) ? row.plan : keptPlan(row.plan)),
      JSON.stringify(counts),
      isPutBack(row.plan) ? row.plan.putBack : null,
    ] as string[],
  );
  await transaction('fiche.change_plan')
    .where({ id: row.id })
    .update({ state: 'written', counts: JSON.stringify(counts) });
  return counts;
}

/** Checks that the records that were checked still wait. Their table is not logged, for speed: after a crash it is empty. */
async function requireStaged(transaction: Transaction, { id, counts }: PlanRow): Promise<void> {
  const gone = new Refusal(
    409,
    say('The records that were checked are gone: the database was restarted. {again}', { again: say(AGAIN) }),
  );
  const { rows: there } = await transaction.raw<{ rows: { name: string | null }[] }>('SELECT to_regclass(?) AS name', [
    stagingOfChange(id),
  ]);
  if (!there[0]?.name) throw gone;
  const { rows } = await transaction.raw<{ rows: { n: number }[] }>(`SELECT count(*) AS n FROM ${stagingOfChange(id)}`);
  if (Number(rows[0]?.n) !== counts?.change) throw gone;
}

/** Locks the records, and takes out those that somebody has changed since they were checked. Returns how many. */
async function leaveMoved(transaction: Transaction, staging: string, table: TableId): Promise<number> {
  await transaction.raw(
    `SELECT r.id FROM ${staging} s JOIN ${relation(table)} r ON r.id = s."record#" ORDER BY r.id FOR UPDATE OF r`,
  );
  const { rowCount } = await transaction.raw<{ rowCount: number }>(
    `DELETE FROM ${staging} s WHERE NOT EXISTS (SELECT FROM ${relation(table)} r WHERE r.id = s."record#" AND r.version = s."version#")`,
  );
  return rowCount;
}

/** Checks that the role of whoever changes still allows what the check found allowed. Throws 403 and 409. */
async function requireStillAllowed(transaction: Transaction, { row, table, kind }: Writing): Promise<void> {
  const definitions = await definitionsFor(transaction, row.cabinet, row.account);
  for (const { where } of forbiddenRows(definitions, table, relation(table.id), actionOf(kind))) {
    const { rows } = await transaction.raw<{ rows: unknown[] }>(
      `SELECT FROM ${stagingOfChange(row.id)} s WHERE ${where} LIMIT 1`,
    );
    if (rows.length > 0)
      throw new Refusal(409, say('Your rights have changed since the check. {again}', { again: say(AGAIN) }));
  }
}

/** Updates the records in steps; those that a reason lets through a rule get it into their lines. Returns how many changed. */
async function updateStaged(
  transaction: Transaction,
  { work, row, table, actor, rules }: Writing,
  staging: string,
  set: string,
): Promise<number> {
  const { rows: span } = await transaction.raw<{ rows: { last: number | null; n: number }[] }>(
    `SELECT max("row#") AS last, count(*) AS n FROM ${staging}`,
  );
  const { rows: groups } = await transaction.raw<{ rows: { beside: string | null }[] }>(
    `SELECT DISTINCT "beside#"::text AS beside FROM ${staging}`,
  );
  const { last, n } = span[0] ?? { last: null, n: 0 };
  let changed = 0;
  for (const { beside } of groups) {
    const asked = beside === null ? [] : (JSON.parse(beside) as string[]);
    const reasons = asked.map((id) => ({ message: rules.get(id) ?? id, reason: row.plan.reasons[id] ?? '' }));
    await setActor(transaction, reasons.length === 0 ? actor : { ...actor, through: { ...actor.through, reasons } });
    for (let from = 1; last !== null && from <= last; from += STEP) {
      const { rowCount } = await transaction.raw<{ rowCount: number }>(
        `UPDATE ${relation(table.id)} r SET ${set} FROM ${staging} s
         WHERE r.id = s."record#" AND s."row#" >= ? AND s."row#" < ? AND s."beside#"::text IS NOT DISTINCT FROM ?::text`,
        [from, from + STEP, beside] as string[],
      );
      changed += rowCount;
      await work.progress(changed, Number(n));
    }
  }
  await setActor(transaction, actor);
  return changed;
}

async function announceChanged(transaction: Transaction, by: string, table: TableId, staging: string): Promise<void> {
  const { rows } = await transaction.raw<{ rows: { record: RecordId }[] }>(
    `SELECT "record#" AS record FROM ${staging} ORDER BY "row#" LIMIT ?`,
    [ANNOUNCED],
  );
  for (const { record } of rows) await announce(transaction, by, table, Number(record));
}
