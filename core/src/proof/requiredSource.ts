import { formFields } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import { isGiven } from '../tables/index.ts';
import type { Check } from './finding.ts';

/** A required field that is not on the form and gets its value from nowhere else. */
export const requiredSource: Check = ({ definition, table, form }) => {
  if (!definition.may.add) return [];
  const placed = new Set(formFields(definition).map((one) => one.field));
  return (
    table.fields
      .filter((field) => field.required && !placed.has(field.id) && field.initial === null && !isGiven(field))
      // The link of a line to the record around it is set by the system.
      .filter((field) => field.id !== form.enclosure?.link)
      .map((field) => ({
        rule: 'required',
        weight: 'must',
        path: field.id,
        message: say('{label} is required in {other} but is not on the form. Add it, or give it a default.', {
          label: field.label,
          other: table.label,
        }),
        why: say('Every new record would be refused.'),
      }))
  );
};
