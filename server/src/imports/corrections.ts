import { isDeepStrictEqual } from 'node:util';
import type { ImportPlan } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import type { Database, Databases } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { unacceptable } from '../http/index.ts';
import { rowsOfImport } from './rights.ts';
import { type CellProblem, RowChecker } from './rowChecker.ts';
import type { ImportRow } from './store.ts';
import { targetsOf } from './targets.ts';
import { formOfImport, throughForm } from './throughForm.ts';

/** A row of the file with its cells as a person corrected them; its number is the one that the file gives it. */
interface CorrectedRow {
  readonly number: number;
  readonly cells: readonly string[];
}

/** What is still wrong with a corrected row by itself; other rows of the file are not looked at. */
interface CorrectedVerdict {
  readonly number: number;
  readonly problems: CellProblem[];
}

/**
 * Keeps rows as a person corrected them, and checks each by itself under the file's plan. The next check of the file
 * reads them in place of its own; nothing is written to the table. Throws 422 for a row that was not found bad.
 */
export async function correctRows(
  { app, owner }: Databases,
  definitions: Definitions,
  row: ImportRow & { readonly plan: ImportPlan },
  corrected: readonly CorrectedRow[],
  account: string,
): Promise<CorrectedVerdict[]> {
  const tables = rowsOfImport(definitions);
  const { table, targets } = targetsOf(tables, row.cabinet, row.plan);
  const numbers = corrected.map((one) => one.number);
  const bad = await app('fiche.import_bad_row').where({ import: row.id }).whereIn('number', numbers).select('number');
  const known = new Set(bad.map((one) => Number(one.number)));
  const other = numbers.find((number) => !known.has(number));
  if (other !== undefined)
    throw unacceptable([
      {
        path: 'rows',
        rule: 'row',
        message: say('Row {other} is not among the rows to correct. Check the file again.', { other }),
      },
    ]);
  await owner.raw(
    `INSERT INTO fiche.import_correction (import, number, cells)
     SELECT ?, (r->>'number')::bigint, r->'cells' FROM jsonb_array_elements(?::jsonb) r
     ON CONFLICT (import, number) DO UPDATE SET cells = excluded.cells`,
    [row.id, JSON.stringify(corrected)],
  );
  const opening = { account, now: civilNow() };
  const form = formOfImport(row.plan, targets, definitions, opening);
  const checker = new RowChecker(app, tables, table, targets, row.plan, opening);
  const alone = await checker.check(corrected);
  const checked = form ? await throughForm(app, form, alone) : alone;
  return checked.map((one) => ({ number: one.row.number, problems: 'problems' in one ? [...one.problems] : [] }));
}

/** The rows of a file that were corrected, by their number. */
export async function correctionsOf(app: Database, id: number): Promise<ReadonlyMap<number, readonly string[]>> {
  const rows: { number: number; cells: string[] }[] = await app('fiche.import_correction')
    .where({ import: id })
    .select('number', 'cells');
  return new Map(rows.map((one) => [Number(one.number), one.cells]));
}

/** Forgets corrections when the file is read in another way: its rows and cells may be others then. */
export async function forgetCorrections(owner: Database, row: ImportRow, plan: ImportPlan): Promise<void> {
  if (isDeepStrictEqual(row.plan?.reading, plan.reading)) return;
  await owner('fiche.import_correction').where({ import: row.id }).delete();
}
