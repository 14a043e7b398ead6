import { isIndexed, withArticle } from '../../fields/index.ts';
import { type FieldDefinition, findField, type TableDefinition, typeOf } from '../table.ts';
import { type Constraint, constraintFields, kindMisfit } from './registry.ts';

/** Whether records can be compared by a field: it holds one value that an index can keep. */
export const isComparable = (field: Pick<FieldDefinition, 'type'>): boolean => isIndexed(field);

/** Why a constraint cannot be made over the fields of a table, in words; undefined when it can. */
export function constraintMisfit(table: TableDefinition, constraint: Constraint): string | undefined {
  for (const id of constraintFields(constraint)) {
    const field = findField(table, id);
    if (!field) return `${id} is not a field of ${table.label}.`;
    if (!isComparable(field)) return `${field.label} is ${withArticle(typeOf(field))} and cannot be compared this way.`;
  }
  return kindMisfit(constraint, (id) => {
    const field = findField(table, id);
    return field && typeOf(field).family;
  });
}
