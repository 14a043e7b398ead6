import { linksOne } from '../fields/index.ts';
import { formFields } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import { findField } from '../tables/index.ts';
import type { Check, Finding } from './finding.ts';

/** Fields that have gone from the table or stand on the form twice, reference cards of links that are not there. */
export const goneFields: Check = ({ definition, table, form }) => {
  const found: Finding[] = [];
  const seen = new Set<string>();
  const why = say('Nobody could fill it in, and nothing could be saved in it.');
  for (const { field: id } of formFields(definition)) {
    const field = findField(table, id);
    const add = (message: string) => found.push({ rule: 'field', weight: 'must', path: id, message, why });
    if (!field)
      add(say('{id} is not a field of {label} any more. Remove it from the form.', { id, label: table.label }));
    else if (seen.has(id)) add(say('{label} is on the form twice. Remove one.', { label: field.label }));
    seen.add(id);
  }
  for (const section of definition.sections)
    for (const item of section.items)
      if (item.kind === 'card' && !linksOne(form.fields.get(item.of)?.field))
        found.push({
          rule: 'card',
          weight: 'must',
          path: `#${item.id}`,
          message: say('A reference card shows the record of {of}, which is no link of this form. Remove the card.', {
            of: item.of,
          }),
          why: say('It would stay empty.'),
        });
  return found;
};
