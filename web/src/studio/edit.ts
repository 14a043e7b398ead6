import { type FormDefinition, type FormField, formFields, placeField } from '@fiche/core/forms';
import { type FieldDefinition, typeOf } from '@fiche/core/tables';

/** Changes to a form's definition: plain functions from one to the next. */

export const fieldOn = (form: FormDefinition, id: string): FormField | undefined =>
  formFields(form).find((one) => one.field === id);

export const changeField = (form: FormDefinition, id: string, change: Partial<FormField>): FormDefinition => ({
  ...form,
  sections: form.sections.map((section) => ({
    ...section,
    fields: section.fields.map((one) => (one.field === id ? { ...one, ...change } : one)),
  })),
});

export const removeField = (form: FormDefinition, id: string): FormDefinition => ({
  ...form,
  sections: form.sections.map((section) => ({ ...section, fields: section.fields.filter((one) => one.field !== id) })),
});

/** Adds a field after the selected one, or at the end of the last section. */
export function addField(form: FormDefinition, field: FieldDefinition, after: string | undefined): FormDefinition {
  const placed = { ...placeField(field), readOnly: !typeOf(field).editable };
  const home =
    form.sections.find((section) => section.fields.some((one) => one.field === after)) ?? form.sections.at(-1);
  return {
    ...form,
    sections: form.sections.map((section) => {
      if (section !== home) return section;
      const at = section.fields.findIndex((one) => one.field === after);
      const where = at < 0 ? section.fields.length : at + 1;
      return { ...section, fields: [...section.fields.slice(0, where), placed, ...section.fields.slice(where)] };
    }),
  };
}

/** Moves a field by one place up or down, from one section into the next where it stands at the edge. */
export function stepField(form: FormDefinition, id: string, step: 1 | -1): FormDefinition {
  const at = form.sections.findIndex((section) => section.fields.some((one) => one.field === id));
  const section = form.sections[at];
  const place = section?.fields.findIndex((one) => one.field === id) ?? -1;
  const field = section?.fields[place];
  if (!section || !field) return form;
  const inside = place + step >= 0 && place + step < section.fields.length;
  const next = inside ? at : at + step;
  if (next < 0 || next >= form.sections.length) return form;
  const without = removeField(form, id);
  return {
    ...without,
    sections: without.sections.map((one, n) => {
      if (n !== next) return one;
      const where = inside ? place + step : step > 0 ? 0 : one.fields.length;
      return { ...one, fields: [...one.fields.slice(0, where), field, ...one.fields.slice(where)] };
    }),
  };
}

/** Puts a field before another one, wherever that stands. */
export function moveBefore(form: FormDefinition, id: string, target: string): FormDefinition {
  const field = fieldOn(form, id);
  if (!field || id === target) return form;
  const order = formFields(form).map((one) => one.field);
  const down = order.indexOf(id) < order.indexOf(target);
  const without = removeField(form, id);
  return {
    ...without,
    sections: without.sections.map((section) => {
      const at = section.fields.findIndex((one) => one.field === target);
      const where = down ? at + 1 : at;
      return at < 0
        ? section
        : { ...section, fields: [...section.fields.slice(0, where), field, ...section.fields.slice(where)] };
    }),
  };
}

export function addSection(form: FormDefinition, label: string): FormDefinition {
  const ids = new Set(form.sections.map((section) => section.id));
  let n = form.sections.length + 1;
  while (ids.has(`s${n}`)) n += 1;
  return { ...form, sections: [...form.sections, { id: `s${n}`, label, columns: 3, fields: [] }] };
}
