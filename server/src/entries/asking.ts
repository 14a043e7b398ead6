import { type Value, type Values, valueSchema } from '@fiche/core/fields';
import type { PreparedField, PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { sourceOf } from '@fiche/core/narrowing';
import { civilNow } from '@fiche/core/office';
import type { FieldId } from '@fiche/core/tables';
import { enclosingAsSent, isAmongChoices, readableOf } from '../choices/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import { notFound } from '../http/index.ts';
import type { AnyCall, FindRunner } from './runners.ts';

/** What a question about a dropdown says of the form. */
export interface Asking {
  readonly field: FieldId;
  readonly formVersion?: number;
  readonly within?: { readonly subform: string; readonly values: Record<string, unknown> };
  readonly values: Record<string, unknown>;
}

/** The dropdown that a question is about, and the entry as its narrowing reads it. */
export async function askedOf(database: Database, find: FindRunner, call: AnyCall & { readonly body: Asking }) {
  const runner = await find(call, call.body.formVersion);
  const { within, field } = call.body;
  const form = within ? linesForm(runner.form, within.subform) : runner.form;
  const dropdown = dropdownOf(form, field);
  const values = sentValues(form, call.body.values);
  const enclosing = within
    ? await enclosingAsSent(database, runner.rows, runner.form, sentValues(runner.form, within.values), dropdown)
    : undefined;
  const asked = { account: runner.account, now: civilNow(), values, enclosing };
  const entry = await readableOf(database, runner.rows, form, asked, dropdown);
  return { runner, dropdown, entry };
}

/** The form of the lines of a subform. */
export function linesForm(form: PreparedForm, id: string): PreparedForm {
  const subform = form.subforms.get(id);
  if (!subform) throw notFound(say('This subform'));
  return subform.form;
}

function dropdownOf(form: PreparedForm, id: string): PreparedField {
  const field = form.fields.get(id);
  if (!field?.source) throw notFound(say('This dropdown'));
  return field;
}

/** Whether a public page's own dropdown would offer a record. */
export const offered = (
  database: Database | Transaction,
  form: PreparedForm,
  field: PreparedField,
  id: number,
): Promise<boolean> =>
  sourceOf(field.field)
    ? isAmongChoices(
        database,
        form.tables,
        { form, account: null, now: civilNow(), values: {}, linked: {}, hidden: {} },
        field,
        id,
      )
    : Promise.resolve(false);

/** The sent values of the form's own fields; anything else is no business of a narrowing. */
const sentValues = (form: PreparedForm, values: Record<string, unknown>): Values =>
  Object.fromEntries(
    [...form.fields.keys()].flatMap((id): [string, Value][] => {
      const value = values[id];
      const read = valueSchema.safeParse(value);
      return read.success && read.data !== null ? [[id, read.data]] : [];
    }),
  );
