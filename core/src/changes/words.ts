import { isBlank, type Value } from '../fields/index.ts';
import { labelAt } from '../forms/index.ts';
import { findField, type TableDefinition, type Tables, targetTable, typeOf } from '../tables/index.ts';
import type { ChangeOfMany, FieldSetting } from './plan.ts';

/** The records that a change of many names as values, whose titles its words need. */
export const recordsNamed = (what: ChangeOfMany, table: TableDefinition): { table: string; id: number }[] =>
  what.kind === 'set'
    ? what.set.flatMap(({ field, becomes }) => {
        const target = targetTable(findField(table, field));
        return target !== undefined && becomes.kind === 'value'
          ? [becomes.value].flat().map((id) => ({ table: target, id: Number(id) }))
          : [];
      })
    : [];

/** `Waived becomes yes; Reason becomes blank`. `titles` are those of records, by `table:id`. */
export function describeChange(
  what: ChangeOfMany,
  table: TableDefinition,
  tables: Tables,
  titles: ReadonlyMap<string, string>,
): string {
  if (what.kind === 'paste')
    return `pasted into ${what.fields.map((id) => findField(table, id)?.label ?? id).join(', ')}`;
  if (what.kind !== 'set') return what.kind === 'archive' ? 'archived' : 'restored';
  return what.set.map((one) => settingWords(one, table, tables, titles)).join('; ');
}

function settingWords(
  { field: id, becomes }: FieldSetting,
  table: TableDefinition,
  tables: Tables,
  titles: ReadonlyMap<string, string>,
): string {
  const field = findField(table, id);
  const label = field?.label ?? id;
  if (becomes.kind === 'replace') return `${becomes.from} becomes ${becomes.to} in ${label}`;
  if (becomes.kind === 'blank') return `${label} becomes blank`;
  if (becomes.kind === 'field') return `${label} becomes ${labelAt(tables, table.id, becomes.path)}`;
  if (becomes.kind === 'calculation') return `${label} becomes ${becomes.source}`;
  if (!field) return `${label} becomes ${String(becomes.value)}`;
  const target = targetTable(field);
  if (target !== undefined)
    return `${label} becomes ${[becomes.value]
      .flat()
      .map((one) => titles.get(`${target}:${one}`) ?? `#${one}`)
      .join(', ')}`;
  const read = typeOf(field).accept(becomes.value, field.settings);
  const value: Value = read.ok ? read.value : null;
  return `${label} becomes ${isBlank(value) ? 'blank' : typeOf(field).format(value, field.settings)}`;
}
