import { type Condition, type Group, judge, mapOperands, type Operand, pathsOf } from '../conditions/index.ts';
import { type Demand, exampleReader, type Rule } from '../rules/index.ts';
import { type FieldDefinition, findField, isGiven, type TableDefinition } from '../tables/index.ts';
import { BETWEEN, type Destination, type Destinations, fieldOfDestination } from './destination.ts';

/** A path with its first field under another name. */
export function withRoot(path: string, named: (field: string) => string): string {
  const [first = '', ...rest] = path.split('.');
  return [named(first), ...rest].join('.');
}

/** The rules of a record that is always added, as far as all that they read is entered on the form: checked there while it is filled. */
export function rulesOfForm(
  { links, copies }: Destinations,
  { id, does }: Destination,
  table: TableDefinition,
): Rule[] {
  // A record that is found is not held to what is typed beside its key.
  if (does !== 'add') return [];
  const named = (field: string): string =>
    copies.find((one) => one.of === id && one.to === field)?.from ?? fieldOfDestination(id, field);
  const isEntered = (path: string): boolean => {
    const [first = ''] = path.split('.');
    const field = findField(table, first);
    return field !== undefined && isLeftToForm(field) && !links.some((one) => one.of === id && one.field === first);
  };
  return table.rules.flatMap((rule): Rule[] => {
    const { must, when, at } = rule;
    if (!isCondition(must) || isBrokenByNothing(must)) return [];
    const reads = [...pathsOf(must, 'form'), ...(when ? pathsOf(when, 'form') : []), at];
    if (!reads.every(isEntered)) return [];
    const there = (operand: Operand): Operand =>
      operand.kind === 'form' ? { ...operand, path: withRoot(operand.path, named) } : operand;
    return [
      {
        ...rule,
        id: `${id}${BETWEEN}${rule.id}`,
        at: named(at),
        must: mapOperands(must, there),
        when: when && (mapOperands(when, there) as Group),
        examples: [],
      },
    ];
  });
}

/** The reasons that a person gave, for the rules of a destination’s table by their names there. */
export const reasonsOfPart = (part: string, reasons: Readonly<Record<string, string>>): Record<string, string> =>
  Object.fromEntries(
    Object.entries(reasons).map(([rule, reason]) => [
      rule.startsWith(`${part}${BETWEEN}`) ? rule.slice(part.length + BETWEEN.length) : rule,
      reason,
    ]),
  );

/** A field that has nothing but what is entered: no value of its own that only the server knows. */
const isLeftToForm = (field: FieldDefinition): boolean => !isGiven(field) && field.initial === null;

const isCondition = (must: Demand): must is Condition => must.kind !== 'expression';

/** Where nothing is entered, no record is added, and none is refused. */
const isBrokenByNothing = (must: Condition): boolean =>
  judge(
    must,
    exampleReader({}, null, () => null),
  ) === false;
