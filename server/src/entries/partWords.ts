import { homeOf } from '@fiche/core/destinations';
import { isBlank, type Problem, type Value, type Values } from '@fiche/core/fields';
import type { PreparedForm } from '@fiche/core/forms';
import { type FieldId, findField, type TableDefinition, type TableId, targetTable, typeOf } from '@fiche/core/tables';

/** A problem of a record at the field of the form that its value comes from; with its label where there is none. */
export function onForm(
  { definition, fields }: PreparedForm,
  part: string,
  table: TableDefinition,
  problem: Problem,
): Problem {
  const placed = [...fields.values()].find((one) => {
    const home = homeOf(definition, one.id);
    return one.placed && home.part === part && home.field === problem.path;
  });
  const copied = definition.destinations?.copies.find((one) => one.of === part && one.to === problem.path);
  const path = placed?.id ?? copied?.from;
  if (path !== undefined) return { ...problem, path };
  const field = findField(table, problem.path)?.label;
  return { ...problem, path: '', message: `${table.label}${field ? `, ${field}` : ''}: ${problem.message}` };
}

/** The values of a record in words; `linkedWords` names the record that a link field points at, where it is known. */
export const partWords = (
  table: TableDefinition,
  values: Values,
  linkedWords: (target: { readonly table: TableId; readonly record: Value }, field: FieldId) => string | undefined,
): { label: string; value: string }[] =>
  Object.entries(values).flatMap(([id, value]: [string, Value]) => {
    const field = findField(table, id);
    if (!field || isBlank(value)) return [];
    const target = targetTable(field);
    const shown = target && (linkedWords({ table: target, record: value }, field.id) ?? `record ${value}`);
    return [{ label: field.label, value: shown ?? typeOf(field).format(value, field.settings) }];
  });
