import { type PreparedRipple, prepareRipple } from '@fiche/core/ripples';
import type { TableDefinition, TableId, Tables } from '@fiche/core/tables';

/** The ripples of a table that are not paused, ready to run. Throws for one that is broken: nothing is saved past it. */
function ripplesOf(table: TableDefinition, tables: Tables): PreparedRipple[] {
  return (table.ripples ?? []).flatMap((ripple) => {
    if (ripple.paused) return [];
    const prepared = prepareRipple(ripple, table, tables);
    if ('problems' in prepared) throw new Error(`${ripple.label}: ${prepared.problems[0]?.message}`);
    return [prepared];
  });
}

const known = new WeakMap<Tables, Map<TableId, PreparedRipple[]>>();

/** The ripples that run, by table; made ready once for as long as the definitions stand. */
export function runningRipples(tables: Tables): ReadonlyMap<TableId, readonly PreparedRipple[]> {
  const before = known.get(tables);
  if (before) return before;
  const made = new Map<TableId, PreparedRipple[]>();
  for (const table of tables.values()) {
    const ripples = ripplesOf(table, tables);
    if (ripples.length > 0) made.set(table.id, ripples);
  }
  known.set(tables, made);
  return made;
}

/** Whether anything else is written when records of a table are saved. */
export const hasRipples = (tables: Tables, table: TableId): boolean => runningRipples(tables).has(table);
