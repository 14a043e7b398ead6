import { linksOne, type Problem } from '../fields/index.ts';
import { say } from '../languages/index.ts';
import { type FieldDefinition, typeOf } from '../tables/index.ts';
import type { PeriodSettings } from './settings.ts';

/** Whether a field can say when something begins or ends. */
export const isPeriodEnd = (field: FieldDefinition): boolean => ['date', 'dateTime'].includes(typeOf(field).family);

type FieldAt = (path: string) => { readonly label: string; readonly field?: FieldDefinition } | undefined;

/** What is wrong with a calendar or lanes for somebody who sees these fields, each at its place. */
export function periodProblems(settings: PeriodSettings, tableLabel: string, fieldAt: FieldAt): Problem[] {
  const problems: Problem[] = [];
  const add = (path: string, rule: string, message: string): void => {
    problems.push({ path, rule, message });
  };
  const known = (at: string, path: string): { label: string; field?: FieldDefinition } | undefined => {
    const column = fieldAt(path);
    if (!column)
      add(
        at,
        'field',
        say('{path} is not a field of {tableLabel} any more. Choose another one.', { path, tableLabel }),
      );
    return column;
  };
  const start = known('start', settings.start);
  const end = settings.end === null ? undefined : known('end', settings.end);
  for (const [at, column] of [
    ['start', start],
    ['end', end],
  ] as const)
    if (column && !(column.field && isPeriodEnd(column.field)))
      add(at, 'date', say('{label} is not a date. Choose a field that holds a date.', { label: column.label }));
  if (
    start?.field &&
    end?.field &&
    isPeriodEnd(start.field) &&
    isPeriodEnd(end.field) &&
    typeOf(start.field).family !== typeOf(end.field).family
  )
    add(
      'end',
      'date',
      say('{label} and {other} are not of one type. Choose two dates, or two dates with times.', {
        label: start.label,
        other: end.label,
      }),
    );
  if (settings.label !== null) known('label', settings.label);
  if (settings.lane !== undefined) {
    const lane = known('lane', settings.lane);
    if (lane && !linksOne(lane.field))
      add(
        'lane',
        'link',
        say('{label} does not link to one record. Choose a link: each record that it can point at gets a lane.', {
          label: lane.label,
        }),
      );
  }
  return problems;
}
