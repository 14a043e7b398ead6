import { say } from '../languages/index.ts';
import type { Check } from './finding.ts';

/** A field that the table requires, and that the form may hide: what is hidden is saved as blank. */
export const hiddenRequired: Check = ({ form, table }) =>
  [...form.fields.values()]
    .filter((field) => field.field.required && field.shownWhen !== null && !field.keepHidden)
    .map((field) => ({
      rule: 'hiddenRequired',
      weight: 'must',
      path: field.id,
      message: say(
        '{label} is required in {other}, and this form hides it at times. Let it keep its value while hidden, or show it always.',
        { label: field.label, other: table.label },
      ),
      why: say('A hidden field is saved as blank, which the table refuses.'),
    }));
