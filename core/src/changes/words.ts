import { isBlank, type Value } from '../fields/index.ts';
import { labelAt } from '../forms/index.ts';
import { say } from '../languages/index.ts';
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
    return say('pasted into {list}', { list: what.fields.map((id) => findField(table, id)?.label ?? id).join(', ') });
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
  if (becomes.kind === 'replace')
    return say('{from} becomes {to} in {label}', { from: becomes.from, to: becomes.to, label });
  if (becomes.kind === 'blank') return say('{label} becomes blank', { label });
  if (becomes.kind === 'field')
    return say('{label} becomes {tables}', { label, tables: labelAt(tables, table.id, becomes.path) });
  if (becomes.kind === 'calculation') return say('{label} becomes {source}', { label, source: becomes.source });
  if (!field) return say('{label} becomes {value}', { label, value: String(becomes.value) });
  const target = targetTable(field);
  if (target !== undefined)
    return say('{label} becomes {list}', {
      label,
      list: [becomes.value]
        .flat()
        .map((one) => titles.get(`${target}:${one}`) ?? `#${one}`)
        .join(', '),
    });
  const read = typeOf(field).accept(becomes.value, field.settings);
  const value: Value = read.ok ? read.value : null;
  return say('{label} becomes {value}', {
    label,
    value: isBlank(value) ? 'blank' : typeOf(field).format(value, field.settings),
  });
}
