import { type DefinedForm, type PreparedForm, type PreparedRule, prepareForm } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import { isGiven, type Tables } from '../tables/index.ts';
import { filledFromHidden, isLimitedAtFields, limitsOf, readsHidden } from './formForRole.ts';
import { hiddenFrom } from './hidden.ts';
import { rightTo } from './rightTo.ts';
import type { RoleDefinition } from './role.ts';

/** A form that a role may fill and cannot save: what it needs is hidden from the role, or not for it to write. */
export interface UnfillableForm {
  readonly form: string;
  /** The field, or the place of the rule; of a line with its subform before it. */
  readonly path: string;
  readonly message: string;
}

/** The required fields of forms that a role adds records with and cannot fill, where nothing else gives them a value. */
export function unfillableForms(
  role: RoleDefinition,
  forms: readonly { readonly id: string; readonly definition: DefinedForm }[],
  tables: Tables,
): UnfillableForm[] {
  if (!isLimitedAtFields(role, tables)) return [];
  const limits = limitsOf(role, tables);
  return forms.flatMap(({ id, definition }) => {
    const table = tables.get(definition.table);
    if (!table || !definition.may.add || role.closedForms.includes(id) || rightTo(role, 'add', table) === 'no')
      return [];
    const form = prepareForm(definition, tables, undefined, limits);
    const inLines = [...form.subforms.values()].flatMap((subform) =>
      rightTo(role, 'add', subform.form.table) === 'no' ? [] : missingFields(role, subform.form, `${subform.id}/`),
    );
    const asking = [form, ...[...form.subforms.values()].map((one) => one.form)].flatMap((one) =>
      unanswerableRules(role, one),
    );
    return [
      ...[...missingFields(role, form, ''), ...inLines].map(({ path, label }) => ({
        form: id,
        path,
        message: say(
          '{label} may fill {other} and cannot give {third}, which is required. Let the role write it, or give it a default.',
          { label: role.label, other: definition.label, third: label },
        ),
      })),
      ...asking.map(({ at, message }) => ({
        form: id,
        path: at,
        message: say(
          '{label} may fill {other} and cannot give a reason to the rule “{message}”: it reads what the role does not see. Let the role see it, or make the rule a stop.',
          { label: role.label, other: definition.label, message },
        ),
      })),
    ];
  });
}

/** The rules of a form that ask why, and that the role’s own form leaves out because they read what it does not see. */
function unanswerableRules(role: RoleDefinition, form: PreparedForm): readonly PreparedRule[] {
  const reads = readsHidden({ role, tables: form.tables, hidden: hiddenFrom(role, form.tables) }, form);
  return form.rules.filter((rule) => rule.kind === 'ask' && [rule.at, ...rule.reads].some(reads));
}

function missingFields(role: RoleDefinition, form: PreparedForm, before: string): { path: string; label: string }[] {
  const limits = limitsOf(role, form.tables);
  const filled = new Set([
    ...filledFromHidden(role, form),
    ...[...form.fields.values()].flatMap((field) => field.fill?.pairs.map((pair) => pair.to) ?? []),
  ]);
  return [...form.fields.values()].flatMap((field) => {
    const blind = field.required && limits(form.table.id, field.id) !== undefined;
    const given = isGiven(field.field) || field.initial !== null || field.calculation !== null || filled.has(field.id);
    return blind && !given && field.id !== form.enclosure?.link
      ? [{ path: before + field.id, label: field.label }]
      : [];
  });
}
