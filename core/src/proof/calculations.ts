import { readExpression, resultMisfit } from '../expressions/index.ts';
import { formFields, rootOf } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import { findField } from '../tables/index.ts';
import { type Check, called, type Finding } from './finding.ts';

/** Expressions that cannot be read, that give what their field cannot hold, or that read what is not on the form. */
export const calculations: Check = (examined) => {
  const { definition, tables, table, form } = examined;
  const lines = [...form.subforms.values()].map((one) => ({ id: one.id, fields: one.form.table.fields }));
  const found: Finding[] = [];
  const add = (path: string, message: string): void => {
    found.push({ rule: 'calculation', weight: 'must', path, message, why: say('It would give nothing.') });
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
        add(
          one.field,
          say('The {what} of {examined} has a mistake. {wrong}', {
            what,
            examined: called(examined, one.field),
            wrong: read.wrong,
          }),
        );
        continue;
      }
      const misfit = resultMisfit(read.expression.result, field);
      if (misfit) add(one.field, misfit);
      for (const label of absent(read.expression.reads))
        add(
          one.field,
          say('{examined} is calculated from {label}, which is not on the form.', {
            examined: called(examined, one.field),
            label,
          }),
        );
    }
  }
  for (const rule of definition.rules) {
    if (rule.must.kind !== 'expression') continue;
    const read = readExpression(rule.must.source, table.fields, tables, lines);
    if ('wrong' in read)
      add(rule.at, say('The rule “{message}” has a mistake. {wrong}', { message: rule.message, wrong: read.wrong }));
    else if (read.expression.result !== 'yesNo')
      add(
        rule.at,
        say('The rule “{message}” gives {result}: it has to say yes or no.', {
          message: rule.message,
          result: read.expression.result === 'number' ? 'a number' : 'text',
        }),
      );
    else
      for (const label of absent(read.expression.reads))
        add(
          rule.at,
          say('The rule “{message}” reads {label}, which is not on the form.', { message: rule.message, label }),
        );
  }
  return found;
};
