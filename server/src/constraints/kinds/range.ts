import { quoted } from '@fiche/core/queries';
import { type FieldId, findField, type TableDefinition, typeOf } from '@fiche/core/tables';

const familyOf = (table: TableDefinition, field: FieldId): string | undefined => {
  const found = findField(table, field);
  return found && typeOf(found).family;
};

/** `o."a" = v."a" AND …` for each of the fields. */
export const agree = (fields: readonly string[], one: string, other: string): string =>
  fields.map((id) => `${one}.${quoted(id)} = ${other}.${quoted(id)}`).join(' AND ');

/** Every one of the fields is filled in; true where there are none. */
export const filled = (fields: readonly string[], alias = ''): string =>
  fields.map((id) => `${alias === '' ? '' : `${alias}.`}${quoted(id)} IS NOT NULL`).join(' AND ') || 'true';

/** The range between two fields of the row known as `alias`, as an expression; ends before its last moment. */
export function rangeSql(table: TableDefinition, ends: { from: string; to: string }, alias = ''): string {
  const dot = alias === '' ? '' : `${alias}.`;
  const [from, to] = [`${dot}${quoted(ends.from)}`, `${dot}${quoted(ends.to)}`];
  const kinds = { date: 'daterange', dateTime: 'tsrange', number: 'numrange' } as const;
  const kind = kinds[familyOf(table, ends.from) as keyof typeof kinds];
  const number = kind === 'numrange' ? '::numeric' : '';
  // Ends before it begins: another rule's business, so the two are taken in their order.
  return `${kind}(least(${from}, ${to})${number}, CASE WHEN ${to} IS NOT NULL THEN greatest(${from}, ${to})${number} END)`;
}

/** The days that a row known as `alias` covers, as a range of dates: that of `from`, or from there to `to`. */
export function daysSql(table: TableDefinition, ends: { from: string; to: string | null }, alias = ''): string {
  const dot = alias === '' ? '' : `${alias}.`;
  const from = `${dot}${quoted(ends.from)}`;
  if (ends.to === null) return `daterange(${from}::date, ${from}::date + 1)`;
  const to = `${dot}${quoted(ends.to)}`;
  const first = `least(${from}, ${to})::date`;
  // A moment at midnight is the end of the day before; a stay of no length counts on its day.
  const last =
    familyOf(table, ends.from) === 'dateTime'
      ? `(greatest(${from}, ${to}) - interval '1 microsecond')::date + 1`
      : `greatest(${from}, ${to})`;
  return `daterange(${first}, CASE WHEN ${to} IS NOT NULL THEN greatest(${last}, ${first} + 1) END)`;
}
