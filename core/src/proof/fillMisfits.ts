import { misfit } from '../fills/index.ts';
import { formFields } from '../forms/index.ts';
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
      why: 'The value could not be put there.',
    });
    const source = tables.get(fill.table);
    if (!source) return [found(`${called(examined, one.field)} fills from a table that is not there any more.`)];
    if (fill.key !== null && !findField(source, fill.key))
      return [
        found(`${called(examined, one.field)} looks up ${fill.key}, which is not a field of ${source.label} any more.`),
      ];
    return fill.pairs.flatMap((pair) => {
      const to = findField(table, pair.to);
      const why = to ? misfit(tables, fill.table, pair.from, to) : `${pair.to} is not there any more.`;
      if (why) return [found(why)];
      if (!form.fields.get(pair.to)?.placed)
        return [found(`${called(examined, one.field)} fills ${to?.label}, which is not on the form.`)];
      return form.fields.get(pair.to)?.calculation
        ? [found(`${called(examined, one.field)} fills ${to?.label}, which is calculated. Take one of the two away.`)]
        : [];
    });
  });
};
