import { all, type Condition, is } from '../conditions/index.ts';
import { takesWord } from '../fields/index.ts';
import { type FieldDefinition, type TableId, targetTable } from '../tables/index.ts';
import type { Narrowing } from './narrowing.ts';

/** The table that a dropdown's choices are read from, and, for a level of an option list, its column there. */
export interface Source {
  readonly table: TableId;
  /** Set for an option list: the choices are the distinct words of this column. */
  readonly column?: string;
}

/** Where a field's choices come from; undefined for a field that is no dropdown over a table. */
export function sourceOf(field: FieldDefinition): Source | undefined {
  const table = targetTable(field);
  if (table !== undefined) return { table };
  const level = field.settings.level as { table: TableId; column: string } | undefined;
  return takesWord(field) && level ? { table: level.table, column: level.column } : undefined;
}

/**
 * Every ancestor counts: the narrowing of a level of an option list by *all* levels above it that are on the form, so
 * that a word standing in two branches is never mixed up. `levels` are the list's columns from the top; `siblings` the
 * form's fields. Conditions that a builder added are kept.
 */
export function withAncestors(
  field: FieldDefinition,
  levels: readonly string[],
  siblings: readonly FieldDefinition[],
  own: Narrowing,
): Narrowing {
  const source = sourceOf(field);
  if (source?.column === undefined) return own;
  const above = levels.slice(0, Math.max(0, levels.indexOf(source.column)));
  const ancestors = above.flatMap((column) => {
    const sibling = siblings.find((one) => {
      const other = sourceOf(one);
      return one.id !== field.id && other?.table === source.table && other.column === column;
    });
    return sibling ? [is({ kind: 'column', path: column }, { kind: 'form', path: sibling.id })] : [];
  });
  return { ...own, where: all(...ancestors, own.where) };
}

/** The narrowing that a field has in its table, and after it what a form adds; a condition that both say counts once. */
export function withTableNarrowing(field: FieldDefinition, own: Narrowing): Narrowing {
  if (field.narrowing === null) return own;
  const said = new Set(conjuncts(field.narrowing).map((one) => JSON.stringify(one)));
  const further = conjuncts(own.where).filter((one) => !said.has(JSON.stringify(one)));
  return { ...own, where: all(...conjuncts(field.narrowing), ...further) };
}

/** The conditions that hold together: an `all` group within another is opened up. */
export const conjuncts = (condition: Condition): Condition[] =>
  condition.kind === 'group' && condition.match === 'all' ? condition.of.flatMap(conjuncts) : [condition];
