import {
  type DefinedForm,
  formFields,
  type Item,
  isField,
  itemKey,
  lineForm,
  type PlacedField,
  placeField,
  type Section,
  subformsOf,
  withLineForm,
} from '@fiche/core/forms';
import type { FieldDefinition, Tables } from '@fiche/core/tables';

/** Changes to a form's definition: plain functions from one to the next. Items go by `itemKey`. */

export const fieldOn = (form: DefinedForm, id: string): PlacedField | undefined =>
  formFields(form).find((one) => one.field === id);

export const itemOn = (form: DefinedForm, key: string): Item | undefined =>
  form.sections.flatMap((section) => section.items).find((item) => itemKey(item) === key);

/** The keys of all items in reading order. */
export const itemKeys = (form: DefinedForm): string[] => form.sections.flatMap((section) => section.items.map(itemKey));

const withItems = (form: DefinedForm, change: (items: readonly Item[], at: number) => Item[]): DefinedForm => ({
  ...form,
  sections: form.sections.map((section, at) => ({ ...section, items: change(section.items, at) })),
});

export const changeField = (form: DefinedForm, id: string, change: Partial<PlacedField>): DefinedForm =>
  withItems(form, (items) => items.map((item) => (isField(item) && item.field === id ? { ...item, ...change } : item)));

export const replaceItem = (form: DefinedForm, key: string, next: Item): DefinedForm =>
  withItems(form, (items) => items.map((item) => (itemKey(item) === key ? next : item)));

export const changeSection = (form: DefinedForm, id: string, change: Partial<Section>): DefinedForm => ({
  ...form,
  sections: form.sections.map((section) => (section.id === id ? { ...section, ...change } : section)),
});

/** Takes a section away; what stood in it goes to its neighbour. The last one stays. */
export function removeSection(form: DefinedForm, id: string): DefinedForm {
  const at = form.sections.findIndex((section) => section.id === id);
  const [gone, neighbour] = [form.sections[at], form.sections[at === 0 ? 1 : at - 1]];
  if (!gone || !neighbour) return form;
  const items = at === 0 ? [...gone.items, ...neighbour.items] : [...neighbour.items, ...gone.items];
  return {
    ...form,
    sections: form.sections.flatMap((section) =>
      section === gone ? [] : [section === neighbour ? { ...section, items } : section],
    ),
  };
}

export const removeItem = (form: DefinedForm, key: string): DefinedForm =>
  withItems(form, (items) => items.filter((item) => itemKey(item) !== key));

/** Puts an item after another one, or at the end of the last section. */
export function addItem(form: DefinedForm, item: Item, after: string | undefined): DefinedForm {
  const found = form.sections.findIndex(
    (section) => section.items.some((one) => itemKey(one) === after) || `§${section.id}` === after,
  );
  const home = found < 0 ? form.sections.length - 1 : found;
  return withItems(form, (items, at) => {
    if (at !== home) return [...items];
    const place = items.findIndex((one) => itemKey(one) === after);
    const where = after?.startsWith('§') ? 0 : place < 0 ? items.length : place + 1;
    return [...items.slice(0, where), item, ...items.slice(where)];
  });
}

export const addField = (form: DefinedForm, field: FieldDefinition, after: string | undefined): DefinedForm =>
  addItem(form, placeField(field), after);

/** The place in the lines of a subform that a key names: `services_used/quantity`. */
export function lineKey(key: string | undefined): { readonly subform: string; readonly key: string } | undefined {
  const at = key?.indexOf('/') ?? -1;
  return key === undefined || at < 0 ? undefined : { subform: key.slice(0, at), key: key.slice(at + 1) };
}

/** The same form with the form of a subform’s lines changed. */
export function changeLines(
  form: DefinedForm,
  id: string,
  tables: Tables,
  change: (lines: DefinedForm) => DefinedForm,
): DefinedForm {
  const subform = subformsOf(form).find((one) => one.id === id);
  return subform ? replaceItem(form, id, withLineForm(subform, change(lineForm(subform, tables)))) : form;
}

/** An id that no item of the form has yet. */
export function freshItemId(form: DefinedForm, stem: string): string {
  const taken = new Set(itemKeys(form));
  let n = 1;
  while (taken.has(`#${stem}${n}`)) n += 1;
  return `${stem}${n}`;
}

/** Moves an item by one place up or down, from one section into the next where it stands at the edge. */
export function stepItem(form: DefinedForm, key: string, step: 1 | -1): DefinedForm {
  const at = form.sections.findIndex((section) => section.items.some((item) => itemKey(item) === key));
  const section = form.sections[at];
  const place = section?.items.findIndex((item) => itemKey(item) === key) ?? -1;
  const moving = section?.items[place];
  if (!section || !moving) return form;
  const inside = place + step >= 0 && place + step < section.items.length;
  const next = inside ? at : at + step;
  if (next < 0 || next >= form.sections.length) return form;
  return withItems(removeItem(form, key), (items, n) => {
    if (n !== next) return [...items];
    const where = inside ? place + step : step > 0 ? 0 : items.length;
    return [...items.slice(0, where), moving, ...items.slice(where)];
  });
}

/** Puts an item before or after another one, wherever that stands. */
export function moveBefore(form: DefinedForm, key: string, target: string): DefinedForm {
  const moving = itemOn(form, key);
  if (!moving || key === target) return form;
  const order = itemKeys(form);
  const down = order.indexOf(key) < order.indexOf(target);
  return withItems(removeItem(form, key), (items) => {
    const at = items.findIndex((item) => itemKey(item) === target);
    const where = down ? at + 1 : at;
    return at < 0 ? [...items] : [...items.slice(0, where), moving, ...items.slice(where)];
  });
}

export function addSection(form: DefinedForm, label: string): DefinedForm {
  const ids = new Set(form.sections.map((section) => section.id));
  let n = form.sections.length + 1;
  while (ids.has(`s${n}`)) n += 1;
  return { ...form, sections: [...form.sections, { id: `s${n}`, label, columns: 3, shownWhen: null, items: [] }] };
}
