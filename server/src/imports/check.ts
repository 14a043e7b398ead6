import type { ImportCounts } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import { civilNow, formatCount } from '@fiche/core/office';
import { definitionsFor } from '../access/index.ts';
import { asActor, type Database } from '../database/index.ts';
import { Refusal } from '../http/index.ts';
import { makeStaging, Staging, stagedFields } from '../staging/index.ts';
import type { Worker } from '../tasks/index.ts';
import { correctionsOf } from './corrections.ts';
import { requireImportRights, rowsOfImport } from './rights.ts';
import { type CellProblem, RowChecker } from './rowChecker.ts';
import { type FileRow, rowsOf } from './rows.ts';
import { stagingOf } from './staged.ts';
import { findImport, partsOf } from './store.ts';
import { targetsOf } from './targets.ts';
import { formOfImport, throughForm } from './throughForm.ts';
import { checkRowsTogether, comparesRows } from './together.ts';

/** Bad rows that are kept with their reasons; a file with more is the wrong file, or under the wrong plan. */
const BAD_MOST = 20_000;
const BATCH = 1_000;

interface BadRow {
  readonly number: number;
  readonly cells: readonly string[];
  readonly problems: readonly CellProblem[];
}

/** Reads a file under its plan, checks every row by all that guards the table, and keeps the good ones ready to write. */
export const checkImport: Worker = async (work) => {
  const { app, owner } = work.databases;
  const { id } = work.plan as { id: number };
  const row = await findImport(app, work.cabinet, id);
  const { plan } = row;
  if (!plan || row.state === 'written') throw new Refusal(409, say('This file has been imported already.'));
  const definitions = await definitionsFor(app, work.cabinet, work.actor.name);
  requireImportRights(work.cabinet, plan, definitions);
  const tables = rowsOfImport(definitions);
  const { table, targets } = targetsOf(tables, work.cabinet, plan);
  const fields = stagedFields(table);
  await makeStaging(owner, stagingOf(id), fields);
  await owner('fiche.import_bad_row').where({ import: id }).delete();
  const opening = { account: work.actor.name, now: civilNow() };
  const form = formOfImport(plan, targets, definitions, opening);
  const checker = new RowChecker(app, tables, table, targets, plan, opening);
  const staging = await Staging.open(owner, stagingOf(id), fields);
  const keepsCells = comparesRows(table, plan, definitions);
  const bad: BadRow[] = [];
  const [counted, badCount] = [{ rows: 0 }, { n: 0 }];
  let repeated = 0;
  try {
    const settle = async (batch: readonly FileRow[]): Promise<void> => {
      const checkedRows = await checker.check(batch);
      for (const checked of form ? await throughForm(app, form, checkedRows) : checkedRows) {
        counted.rows++;
        if ('values' in checked) {
          const { row, action, record, values } = checked;
          const found = { record: record?.id, version: record?.version };
          await staging.write({
            number: row.number,
            ...found,
            action,
            values,
            ...(keepsCells ? { beside: row.cells } : {}),
          });
        } else {
          badCount.n++;
          bad.push({ number: checked.row.number, cells: checked.row.cells, problems: checked.problems });
        }
      }
      if (bad.length >= 500) await keepBad(owner, id, bad.splice(0));
      if (badCount.n > BAD_MOST)
        throw new Refusal(
          422,
          say('More than {badMost} rows cannot be imported, the first because: {reason} Check where the columns go.', {
            badMost: formatCount(BAD_MOST),
            reason: await firstReason(owner, id),
          }),
        );
      await work.progress(counted.rows, Math.max(counted.rows, row.counts?.rows ?? 0));
    };
    const corrections = await correctionsOf(app, id);
    const batch: FileRow[] = [];
    let names: readonly string[] | undefined;
    for await (const one of rowsOf(partsOf(app, id), plan.reading)) {
      if (names === undefined) {
        names = one.cells;
        continue;
      }
      // A header that comes again in the middle is no record: it is counted by itself.
      if (one.cells.length === names.length && one.cells.every((cell, at) => cell === names?.[at])) {
        repeated++;
        continue;
      }
      const cells = corrections.get(one.number);
      batch.push(cells ? { number: one.number, cells } : one);
      if (batch.length === BATCH) await settle(batch.splice(0));
    }
    await settle(batch);
    await staging.close();
    await keepBad(owner, id, bad);
    badCount.n += await checkRowsTogether(owner, id, table, targets, plan, definitions);
  } catch (error) {
    await staging.drop();
    throw error;
  }
  const found = await countActions(owner, id, counted.rows, badCount.n);
  const counts = { ...found, rows: found.rows + repeated, ...(repeated > 0 ? { repeated } : {}) };
  if (counted.rows === 0) throw new Refusal(422, say('This file has no rows below its names.'));
  await asActor(owner, { ...work.actor, through: { kind: 'import', label: row.file } }, (transaction) =>
    transaction('fiche.import')
      .where({ id })
      .update({
        state: 'checked',
        counts: JSON.stringify(counts),
        plan: JSON.stringify({ ...plan, revision: table.revision }),
      }),
  );
  return { ...counts };
};

const firstReason = async (owner: Database, id: number): Promise<string> => {
  const row = await owner('fiche.import_bad_row').where({ import: id }).orderBy('number').first('problems');
  return String((row?.problems as { message: string }[] | undefined)?.[0]?.message ?? '');
};

async function keepBad(owner: Database, id: number, rows: readonly BadRow[]): Promise<void> {
  if (rows.length === 0) return;
  await owner.raw(
    `INSERT INTO fiche.import_bad_row (import, number, cells, problems)
     SELECT ?, (r->>'number')::bigint, r->'cells', r->'problems' FROM jsonb_array_elements(?::jsonb) r ON CONFLICT DO NOTHING`,
    [id, JSON.stringify(rows)],
  );
}

async function countActions(owner: Database, id: number, rows: number, bad: number): Promise<ImportCounts> {
  const { rows: found } = await owner.raw<{ rows: { action: string; n: number }[] }>(
    `SELECT "action#" AS action, count(*) AS n FROM ${stagingOf(id)} GROUP BY 1`,
  );
  const of = (action: string): number => found.find((one) => one.action === action)?.n ?? 0;
  return { rows, add: of('add'), change: of('change'), skip: of('skip'), bad };
}
