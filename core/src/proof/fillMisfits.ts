import { misfit } from '../fills/index.ts';
import { formFields } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import { findField } from '../tables/index.ts';
import { type Check, called, type Finding } from './finding.ts';

/** Fills of types that do not fit, into fields that are not there, or into fields that the system gives. */
export const fillMisfits: Check = (examined) => {
  const { definition, tables, table, form } = examined;
  return formFields(definition).flatMap((one): Finding[] => {
    const { fill } = one;
    if (!fill) return [];
    const found = (message: string): Finding => ({
      rule: 'fill',
      weight: 'must',
      path: one.field,
      message,
      why: say('The value could not be put there.'),
    });
    const source = tables.get(fill.table);
    if (!source)
      return [
        found(
          say('{examined} fills from a table that is not there any more.', { examined: called(examined, one.field) }),
        ),
      ];
    if (fill.key !== null && !findField(source, fill.key))
      return [
        found(
          say('{examined} looks up {key}, which is not a field of {label} any more.', {
            examined: called(examined, one.field),
            key: fill.key,
            label: source.label,
          }),
        ),
      ];
    return fill.pairs.flatMap((pair) => {
      const to = findField(table, pair.to);
      const why = to ? misfit(tables, fill.table, pair.from, to) : say('{to} is not there any more.', { to: pair.to });
      if (why) return [found(why)];
      if (!form.fields.get(pair.to)?.placed)
        return [
          found(
            say('{examined} fills {label}, which is not on the form.', {
              examined: called(examined, one.field),
              label: to?.label ?? '',
            }),
          ),
        ];
      return form.fields.get(pair.to)?.calculation
        ? [
            found(
              say('{examined} fills {label}, which is calculated. Take one of the two away.', {
                examined: called(examined, one.field),
                label: to?.label ?? '',
              }),
            ),
          ]
        : [];
    });
  });
};
