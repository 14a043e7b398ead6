import { quoted } from '@fiche/core/queries';
import { type Constraint, findField, type TableDefinition, typeOf } from '@fiche/core/tables';

/** The range of a rule against overlaps, as an expression over the row known as `alias`; ends before its last moment. */
export function rangeSql(
  table: TableDefinition,
  constraint: Extract<Constraint, { kind: 'noOverlap' }>,
  alias = '',
): string {
  const dot = alias === '' ? '' : `${alias}.`;
  const [from, to] = [`${dot}${quoted(constraint.from)}`, `${dot}${quoted(constraint.to)}`];
  const kinds = { date: 'daterange', dateTime: 'tsrange', number: 'numrange' } as const;
  const kind = kinds[familyOf(table, constraint.from) as keyof typeof kinds];
  const number = kind === 'numrange' ? '::numeric' : '';
  // Ends before it begins: another rule's business, so the two are taken in their order.
  return `${kind}(least(${from}, ${to})${number}, CASE WHEN ${to} IS NOT NULL THEN greatest(${from}, ${to})${number} END)`;
}

export const familyOf = (table: TableDefinition, field: string): string | undefined => {
  const found = findField(table, field);
  return found && typeOf(found).family;
};
