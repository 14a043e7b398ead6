import { homeOf, OWN } from '../destinations/index.ts';
import { type DefinedForm, isField, isSubform } from './form.ts';

const known = new WeakMap<DefinedForm, DefinedForm>();

/**
 * A form as a record that is there is opened in it: its own fields only. What its destinations were found or added for was done
 * when it was entered.
 */
export function withoutDestinations(form: DefinedForm): DefinedForm {
  if (!form.destinations) return form;
  const isOwn = (id: string): boolean => homeOf(form, id).part === OWN;
  const made = known.get(form) ?? {
    ...form,
    destinations: null,
    sections: form.sections.map((section) => ({
      ...section,
      items: section.items.filter((item) =>
        isField(item) ? isOwn(item.field) : !isSubform(item) || item.of === undefined,
      ),
    })),
    rules: form.rules.filter((rule) => isOwn(rule.at)),
  };
  known.set(form, made);
  return made;
}
