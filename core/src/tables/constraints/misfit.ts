import { isIndexed, withArticle } from '../../fields/index.ts';
import { say } from '../../languages/index.ts';
import { findField, type TableDefinition, typeOf } from '../table.ts';
import { type Constraint, constraintFields, kindMisfit } from './registry.ts';

/** Why a constraint cannot be made over the fields of a table, in words; undefined when it can. */
export function constraintMisfit(table: TableDefinition, constraint: Constraint): string | undefined {
  for (const id of constraintFields(constraint)) {
    const field = findField(table, id);
    if (!field) return say('{id} is not a field of {label}.', { id, label: table.label });
    if (!isIndexed(field))
      return say('{label} is {field} and cannot be compared this way.', {
        label: field.label,
        field: withArticle(typeOf(field)),
      });
  }
  return kindMisfit(constraint, (id) => {
    const field = findField(table, id);
    return field && typeOf(field).family;
  });
}
