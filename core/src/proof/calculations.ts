import { readExpression, resultMisfit } from '../expressions/index.ts';
import { formFields, rootOf } from '../forms/index.ts';
import { findField } from '../tables/index.ts';
import { type Check, called, type Finding } from './finding.ts';

/** Expressions that cannot be read, that give what their field cannot hold, or that read what is not on the form. */
export const calculations: Check = (examined) => {
  const { definition, tables, table, form } = examined;
  const lines = [...form.subforms.values()].map((one) => ({ id: one.id, fields: one.form.table.fields }));
  const found: Finding[] = [];
  const add = (path: string, message: string): void => {
    found.push({ rule: 'calculation', weight: 'must', path, message, why: 'It would give nothing.' });
  };
  const absent = (reads: readonly string[]): string[] =>
    reads
      .filter(
        (path) =>
          !form.fields.has(rootOf(path)) && !form.subforms.has(rootOf(path)) && rootOf(path) !== form.enclosure?.link,
      )
      .map((path) => called(examined, rootOf(path)));
  for (const one of formFields(definition)) {
    const field = findField(table, one.field);
    const sources = [
      ['calculation', one.calculation],
      ['default', one.initial?.kind === 'calculation' ? one.initial.source : null],
    ] as const;
    for (const [what, source] of field ? sources : []) {
      if (source === null || !field) continue;
      const read = readExpression(source, table.fields, tables, lines);
      if ('wrong' in read) {
        add(one.field, `The ${what} of ${called(examined, one.field)} has a mistake. ${read.wrong}`);
        continue;
      }
      const misfit = resultMisfit(read.expression.result, field);
      if (misfit) add(one.field, misfit);
      for (const label of absent(read.expression.reads))
        add(one.field, `${called(examined, one.field)} is calculated from ${label}, which is not on the form.`);
    }
  }
  for (const rule of definition.rules) {
    if (rule.must.kind !== 'expression') continue;
    const read = readExpression(rule.must.source, table.fields, tables, lines);
    if ('wrong' in read) add(rule.at, `The rule “${rule.message}” has a mistake. ${read.wrong}`);
    else if (read.expression.result !== 'yesNo')
      add(
        rule.at,
        `The rule “${rule.message}” gives ${read.expression.result === 'number' ? 'a number' : 'text'}: it has to say yes or no.`,
      );
    else
      for (const label of absent(read.expression.reads))
        add(rule.at, `The rule “${rule.message}” reads ${label}, which is not on the form.`);
  }
  return found;
};
