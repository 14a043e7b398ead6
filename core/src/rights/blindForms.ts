import { type DefinedForm, type PreparedForm, prepareForm } from '../forms/index.ts';
import { isGiven, type Tables } from '../tables/index.ts';
import { givenUnseen, isLimitedAtFields, limitsOf } from './formFor.ts';
import { rightTo } from './rightTo.ts';
import type { RoleDefinition } from './role.ts';

/** A form that a role may fill, and cannot: it needs a value that the role does not see or may not write. */
export interface BlindForm {
  readonly form: string;
  /** The field; of a line with its subform before it. */
  readonly path: string;
  readonly message: string;
}

/** The required fields of forms that a role adds records with and cannot fill, where nothing else gives them a value. */
export function blindForms(
  role: RoleDefinition,
  forms: readonly { readonly id: string; readonly definition: DefinedForm }[],
  tables: Tables,
): BlindForm[] {
  if (!isLimitedAtFields(role, tables)) return [];
  const limits = limitsOf(role, tables);
  return forms.flatMap(({ id, definition }) => {
    const table = tables.get(definition.table);
    if (!table || !definition.may.add || role.closedForms.includes(id) || rightTo(role, 'add', table) === 'no')
      return [];
    const form = prepareForm(definition, tables, undefined, limits);
    const inLines = [...form.subforms.values()].flatMap((subform) =>
      rightTo(role, 'add', subform.form.table) === 'no' ? [] : blindFields(role, subform.form, `${subform.id}/`),
    );
    return [...blindFields(role, form, ''), ...inLines].map(({ path, label }) => ({
      form: id,
      path,
      message: `${role.label} may fill ${definition.label} and cannot give ${label}, which is required. Let the role write it, or give it a default.`,
    }));
  });
}

function blindFields(role: RoleDefinition, form: PreparedForm, before: string): { path: string; label: string }[] {
  const limits = limitsOf(role, form.tables);
  const filled = new Set([
    ...givenUnseen(role, form),
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
