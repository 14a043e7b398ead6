import type { ImportPlan } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import { rightTo } from '@fiche/core/rights';
import { findField, type Tables } from '@fiche/core/tables';
import { type Call, needRight, requireWriteRight } from '../access/index.ts';
import type { Database } from '../database/index.ts';
import { type Definitions, requireInUse } from '../definitions/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import { findImport, type ImportRow } from './store.ts';

/**
 * Checks what a plan needs: the right to import into its table, to change where it changes records, to build where it
 * makes a table, and to write each of its fields; all is in use. Throws 403, 404 and 422.
 */
export function requireImportRights(cabinet: string, plan: ImportPlan, definitions: Definitions): void {
  needRight(definitions, 'import');
  if (plan.into.kind === 'new') {
    needRight(definitions, 'build');
    requireInUse(definitions, cabinet, []);
    return;
  }
  const into = definitions.tables.get(plan.into.table);
  if (!into) throw notFound(say('This table'));
  requireWriteRight(definitions, into, 'import');
  if (plan.key.length > 0 && plan.found === 'change') requireWriteRight(definitions, into, 'change');
  requireInUse(definitions, cabinet, [into]);
  for (const { to } of plan.columns) {
    const field = to.kind === 'field' ? findField(definitions.seen?.whole.tables.get(into.id), to.field) : undefined;
    if (field && definitions.seen && rightTo(definitions.seen.role, 'import', into, field.id) === 'no')
      throw new Refusal(
        403,
        say('Your role may not write {label}. Let its column go nowhere.', { label: field.label }),
      );
  }
}

/** Whether a caller may look into an import: their own, or anybody's where they see everything of the cabinet. */
export const mayReadImport = (
  { tables, seen }: Definitions,
  login: string | null,
  row: Pick<ImportRow, 'account'>,
): boolean => seen === undefined || tables === seen.whole.tables || row.account === login;

/** The import that a route names, for a caller who may look into it. Throws 404. */
export async function importOf(
  database: Database,
  { params, caller, definitions }: Pick<Call<unknown, unknown>, 'params' | 'caller' | 'definitions'>,
): Promise<ImportRow> {
  const row = await findImport(database, params.cabinet ?? '', Number(params.import));
  if (!mayReadImport(definitions, caller.login, row)) throw notFound(say('This import'));
  return row;
}

/** The tables that rows are held against: all fields, of the records that the caller sees. */
export const rowsOfImport = ({ tables, seen }: Definitions): Tables => seen?.rows ?? tables;
