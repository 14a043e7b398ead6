import { isNumbered, linksOne } from '../fields/index.ts';
import { type TableDefinition, targetTable, typeOf } from '../tables/index.ts';
import { SELF, type Start } from './nextSteps.ts';

/**
 * What the fields of another table can begin with from a record of this one: links that point at it, and fields of the
 * same name and type.
 */
export function proposeStart(from: TableDefinition, to: TableDefinition): Start['pairs'] {
  return to.fields.flatMap((field): Start['pairs'] => {
    if (!typeOf(field).editable || field.calculation !== null) return [];
    if (linksOne(field) && targetTable(field) === from.id) return [{ from: SELF, to: field.id }];
    const same = from.fields.find(
      (one) =>
        one.label.toLowerCase() === field.label.toLowerCase() &&
        one.type === field.type &&
        targetTable(one) === targetTable(field) &&
        !isNumbered(one),
    );
    return same ? [{ from: same.id, to: field.id }] : [];
  });
}
