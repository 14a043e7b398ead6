import { prepareRule } from '../forms/index.ts';
import { conditionToSql, inlined, SeenTables } from '../queries/index.ts';
import { type TableDefinition, type TableId, type Tables, titleWithin } from '../tables/index.ts';
import { type Hidden, hiddenFrom, isHiddenPath } from './hidden.ts';
import { conditionMisfit } from './misfit.ts';
import { type Asking, resolveRight, rightTo, type Verdict } from './rightTo.ts';
import type { RoleDefinition } from './role.ts';

/** Whether a role sees every record and every field of these tables. */
export const seesEverything = (role: RoleDefinition, tables: Tables): boolean =>
  [...tables.values()].every((table) => rightTo(role, 'see', table) === 'yes') &&
  [...hiddenFrom(role, tables).values()].every((fields) => fields.size === 0);

/**
 * The tables as somebody with a role sees them. A table of which the role neither sees nor adds records is not there, and
 * neither is a hidden field, in titles, cards and rules too; `recordsOf` reads the records that the role sees.
 */
export function tablesSeenBy(role: RoleDefinition, tables: Tables, asking: Asking): SeenTables {
  const hidden = hiddenFrom(role, tables);
  const seen = new Map<TableId, TableDefinition>();
  const limits = new Map<TableId, string>();
  for (const table of tables.values()) {
    if (!hidden.has(table.id)) continue;
    seen.set(table.id, withoutHidden(hidden, tables, table));
    const limit = limitSql(tables, table.id, 's', rightTo(role, 'see', table), asking);
    if (limit !== null) limits.set(table.id, limit);
  }
  return new SeenTables(seen, tables, limits);
}

/**
 * A verdict on records of a table, which the query knows as `alias`, as a WHERE clause without bound values; null where
 * it holds for all of them.
 */
export function limitSql(
  tables: Tables,
  table: TableId,
  alias: string,
  verdict: Verdict,
  asking: Asking,
): string | null {
  if (verdict === 'yes') return null;
  const definition = tables.get(table);
  // A condition on a field that has gone names no record.
  if (verdict === 'no' || !definition || conditionMisfit(verdict, definition, tables) !== undefined) return 'FALSE';
  return inlined(conditionToSql(tables, table, alias, resolveRight(verdict, asking)));
}

function withoutHidden(hidden: Hidden, tables: Tables, table: TableDefinition): TableDefinition {
  const own = hidden.get(table.id) ?? new Set();
  const reads = (path: string): boolean => isHiddenPath(hidden, tables, table.id, path);
  const rules = table.rules.filter(
    (rule) => !own.has(rule.at) && !prepareRule(rule, table, tables, true).reads.some(reads),
  );
  // What else is written is for those who see all that there is.
  if (own.size === 0 && rules.length === table.rules.length && !table.card.some(reads))
    return (table.ripples ?? []).length === 0 ? table : { ...table, ripples: [] };
  return {
    ...table,
    title: titleWithin(table.title, (name) => !own.has(name)),
    fields: table.fields.filter((field) => !own.has(field.id)),
    retired: table.retired.filter((field) => !own.has(field.id)),
    card: table.card.filter((path) => !reads(path)),
    rules,
    constraints: table.constraints.filter((one) => !namesHidden(one, own)),
    ripples: [],
  };
}

/** Whether a rule between records names a hidden field. */
const namesHidden = (constraint: object, hidden: ReadonlySet<string>): boolean =>
  Object.values(constraint)
    .flat()
    .some((value) => typeof value === 'string' && hidden.has(value));
