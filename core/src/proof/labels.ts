import { formFields } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import { type Check, called, type Finding } from './finding.ts';

/** Two fields that are called the same on this form, and rules whose message stands at a field that is not on it. */
export const labels: Check = (examined) => {
  const { definition, form } = examined;
  const seen = new Map<string, string>();
  const doubled = formFields(definition).flatMap(({ field: id }): Finding[] => {
    const label = called(examined, id);
    const key = label.trim().toLocaleLowerCase('en');
    const first = seen.get(key);
    seen.set(key, first ?? id);
    if (first === undefined || first === id) return [];
    return [
      {
        rule: 'label',
        weight: 'look',
        path: id,
        message: say('Two fields of this form are called {label}. Give one of them another label here.', { label }),
        why: say('Nobody can tell which one a message or a sentence means.'),
      },
    ];
  });
  const astray = definition.rules
    .filter((rule) => !form.fields.get(rule.at)?.placed && !form.subforms.has(rule.at))
    .map(
      (rule): Finding => ({
        rule: 'label',
        weight: 'look',
        path: rule.at,
        message: say('The rule “{message}” stands at {examined}, which is not on the form.', {
          message: rule.message,
          examined: called(examined, rule.at),
        }),
        why: say('Its message would only be in the list at the top.'),
      }),
    );
  return [...doubled, ...astray];
};
