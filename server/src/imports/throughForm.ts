import { changesOf, splitPath } from '@fiche/core/entry';
import type { PreparedForm } from '@fiche/core/forms';
import type { ImportPlan } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import type { Database } from '../database/index.ts';
import { decideMany } from '../deciding/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { findFormInUse, prepared } from '../forms/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import { findRecordsWhere, originsOfRecords } from '../records/index.ts';
import type { Checked, GoodRow } from './rowChecker.ts';
import type { Target } from './targets.ts';

/** Rows that are decided together: the same question is asked once for all of them. */
const BATCH = 200;

/** The form through which the rows of an import come in, and who brings them. */
export interface ImportForm {
  readonly form: PreparedForm;
  readonly targets: readonly Target[];
  readonly account: string;
  readonly now: string;
  /** What is said to rules that ask; without it they refuse. */
  readonly reason: string | null;
  readonly definitions: Definitions;
}

/**
 * The form that a plan’s rows have to pass, as its importer has it; undefined where the plan names none. Throws 404 for one that
 * is not published over the table, 422 where it would not take a column of the file.
 */
export function formOfImport(
  plan: ImportPlan,
  targets: readonly Target[],
  definitions: Definitions,
  { account, now }: { readonly account: string; readonly now: string },
): ImportForm | undefined {
  // Plans of a version before name no form.
  const id = plan.form ?? null;
  if (id === null || plan.into.kind === 'new') return undefined;
  const row = findFormInUse(definitions, id);
  const label = row.draft.label;
  if (!row.live || row.live.table !== plan.into.table)
    throw notFound(say('A published form {label} over this table', { label }));
  if ((row.live.destinations?.of.length ?? 0) > 0)
    throw new Refusal(
      422,
      say('{label} writes to several tables. Choose a form that writes to one, or none.', { label }),
    );
  const form = prepared(definitions, row.live);
  const shut = targets.find(({ field }) => form.fields.get(field.id)?.readOnly);
  if (shut)
    throw new Refusal(
      422,
      say('{label} is read-only in {other}, which fills it by itself. Let the column {name} go nowhere.', {
        label: shut.field.label,
        other: label,
        name: shut.column.name,
      }),
    );
  return { form, targets, account, now, reason: plan.reason, definitions };
}

/** Good rows decided as if each were entered into the form: what it fills is filled, and what it refuses is a problem of the row. */
export async function throughForm(app: Database, by: ImportForm, checked: readonly Checked[]): Promise<Checked[]> {
  const decided = new Map<GoodRow, Checked>();
  const open = checked.filter((one): one is GoodRow => 'values' in one && one.action !== 'skip');
  for (let at = 0; at < open.length; at += BATCH) {
    const some = open.slice(at, at + BATCH);
    for (const [n, one] of (await decideRows(app, by, some)).entries()) decided.set(some[n] as GoodRow, one);
  }
  return checked.map((one) => ('values' in one ? (decided.get(one) ?? one) : one));
}

async function decideRows(app: Database, by: ImportForm, rows: readonly GoodRow[]): Promise<Checked[]> {
  const { form, targets, account, now, definitions } = by;
  const ids = rows.flatMap(({ record }) => (record ? [record.id] : []));
  const wanted = (field: { readonly id: string }) => form.fields.get(field.id)?.factPaths ?? [];
  const there = await findRecordsWhere(app, definitions.tables, form.table.id, 'r.id = ANY(?)', [ids], wanted);
  const byId = new Map(there.map((record) => [record.id, record]));
  const origins = await originsOfRecords(app, form.tables, form.table.id, ids);
  const { reason } = by;
  const asks = form.rules.filter((rule) => rule.kind === 'ask');
  const reasons = reason === null ? {} : Object.fromEntries(asks.map((rule) => [rule.id, reason]));
  const given = targets.filter(({ field }) => form.fields.has(field.id));
  const entries = rows.map(({ record, values }) => {
    const known = record && byId.get(record.id);
    return {
      opening: { account, now, record: known ? { ...known, origins: origins.get(known.id) ?? {} } : null },
      sent: { values: Object.fromEntries(given.map(({ field }) => [field.id, values.get(field.id) ?? null])), reasons },
    };
  });
  const decided = await decideMany(app, form, entries, definitions.seen?.rows);
  return rows.map((row, at): Checked => {
    const one = decided[at];
    if (!one) throw new Error('A row was not decided');
    if (one.problems.length > 0)
      return {
        row: row.row,
        problems: one.problems.map(({ path, message }) => ({ column: columnOf(by, path), message })),
      };
    return { ...row, values: new Map([...row.values, ...Object.entries(changesOf(one.state))]) };
  });
}

/** The column of the file that a problem stands at: its field’s, or what the field or the lines are called. */
function columnOf({ form, targets }: ImportForm, path: string): string {
  const id = splitPath(path)?.line.subform ?? path;
  return (
    targets.find(({ field }) => field.id === id)?.column.name ??
    form.fields.get(id)?.label ??
    form.subforms.get(id)?.label ??
    form.definition.label
  );
}
