import { type PreparedForm, prepareForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { formForRole, type Role, tablesSeenBy, unfillableForms } from '@fiche/core/rights';
import { clsx } from 'clsx';
import { findingCss, textCss } from '../parts/index.ts';

/** A form as somebody with a role has it in their browser. */
export function formOfRole(role: Role, form: PreparedForm): PreparedForm {
  const tables = form.stored ?? form.tables;
  return prepareForm(
    formForRole(role, form.definition, tables),
    // A role that has nothing of the form’s table could not open it at all: its fields are shown as they are.
    new Map([...tables, ...tablesSeenBy(role, tables, { account: '', now: civilNow() })]),
  );
}

/** What of a form a role does not get or may not write, and what it could not fill. */
export function RoleNote({ role, whole, form }: { role: Role; whole: PreparedForm; form: PreparedForm }) {
  const placed = [...whole.fields.values()].filter((field) => field.placed);
  const hidden = placed.filter((field) => !form.fields.get(field.id)?.placed).map((field) => field.label);
  const readOnly = placed
    .filter((field) => !field.readOnly && form.fields.get(field.id)?.placed && form.fields.get(field.id)?.readOnly)
    .map((field) => field.label);
  const { add, change } = form.definition.may;
  const said = [
    ...(add || change ? [] : [say('{label} neither adds nor changes records here.', { label: role.label })]),
    ...(hidden.length > 0 ? [say('Hidden from {label}: {list}.', { label: role.label, list: hidden.join(', ') })] : []),
    ...(readOnly.length > 0 ? [say('Read-only: {fields}.', { fields: readOnly.join(', ') })] : []),
  ];
  const blind = unfillableForms(role, [{ id: '', definition: whole.definition }], whole.stored ?? whole.tables);
  return (
    <>
      {said.length > 0 && <p className={textCss.faded}>{said.join(' ')}</p>}
      {blind.map((one) => (
        <p key={one.path} className={clsx(findingCss.finding, findingCss.look)}>
          ● {one.message}
        </p>
      ))}
    </>
  );
}
