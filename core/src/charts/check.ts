import { isIndexed, isLinking, linksOne, type Problem, takesWords } from '../fields/index.ts';
import { say } from '../languages/index.ts';
import { type FieldDefinition, typeOf } from '../tables/index.ts';
import { type Chart, chartReads } from './chart.ts';

/** What a path of a table stands for; undefined where it is not there, or not seen. */
export type FieldAt = (path: string) => { readonly label: string; readonly field?: FieldDefinition } | undefined;

/** Whether records can be shown over the time of a field. */
export const isOfTime = (field: FieldDefinition): boolean => ['date', 'dateTime'].includes(typeOf(field).family);

/** Whether a field holds a number that can be added up. */
export const isNumber = (field: FieldDefinition): boolean => typeOf(field).family === 'number' && !isLinking(field);

/** Whether a field can have a bar for each of its values: one value or one link, or several choices. */
export const hasCategories = (field: FieldDefinition): boolean =>
  linksOne(field) || (isIndexed(field) && !isLinking(field)) || takesWords(field);

/** What is wrong with a chart for somebody who sees these fields, each at its place (`path`, `measure`, `x` …). */
export function chartProblems(chart: Chart, tableLabel: string, fieldAt: FieldAt): Problem[] {
  const fits = (at: string, column: { label: string; field?: FieldDefinition }): string | undefined => {
    const { label, field } = column;
    if (!field) return say('A chart does not show {label}. Choose a field.', { label });
    if (at === 'x' || at === 'y' || at === 'measure')
      return isNumber(field)
        ? undefined
        : say('{label} is not a number. Choose a field that holds a number.', { label });
    if (at === 'path' && chart.kind === 'time')
      return isOfTime(field) ? undefined : say('{label} is not a date. Choose a field that holds a date.', { label });
    return hasCategories(field)
      ? undefined
      : say('{label} has no bars of its own. Choose a field that holds one value, or choices.', { label });
  };
  const problems = chartReads(chart).flatMap(({ path, at }): Problem[] => {
    const column = fieldAt(path);
    if (!column)
      return [
        {
          path: at,
          rule: 'field',
          message: say('{path} is not a field of {tableLabel} any more. Choose another one.', { path, tableLabel }),
        },
      ];
    const message = fits(at, column);
    return message === undefined ? [] : [{ path: at, rule: 'chart', message }];
  });
  if (chart.kind !== 'points' && chart.stacked !== null && !['count', 'sum'].includes(chart.measure.of))
    problems.push({
      path: 'stacked',
      rule: 'stacked',
      message: say(
        'Bars are divided where they count or sum records. Choose the count or the sum, or no second field.',
      ),
    });
  return problems;
}
