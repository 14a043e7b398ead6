import type { TableDefinition, Tables } from '../tables/index.ts';
import { FUTURE_TABLE } from './anywhere.ts';
import { rightTo, type Verdict } from './rightTo.ts';
import { ACTIONS, type FieldLimit, HISTORIES, type RoleDefinition, rightsTo } from './role.ts';

/** Whether a role allows everything that another does: then whoever has it may give the other, and change it. */
export function covers(mine: RoleDefinition, theirs: RoleDefinition, tables: Tables): boolean {
  return (
    theirs.rights.every((right) => mine.rights.includes(right)) &&
    HISTORIES.indexOf(mine.history) >= HISTORIES.indexOf(theirs.history) &&
    mine.closedForms.every((form) => theirs.closedForms.includes(form)) &&
    [...tables.values(), FUTURE_TABLE].every((table) => coversTable(mine, theirs, table))
  );
}

function coversTable(mine: RoleDefinition, theirs: RoleDefinition, table: TableDefinition): boolean {
  const wider = (a: Verdict, b: Verdict): boolean =>
    a === 'yes' || b === 'no' || JSON.stringify(a) === JSON.stringify(b);
  if (!ACTIONS.every((action) => wider(rightTo(mine, action, table), rightTo(theirs, action, table)))) return false;
  if (mine.rights.includes('build')) return true;
  const order: Record<FieldLimit, number> = { readOnly: 1, hidden: 2 };
  const limit = (of: RoleDefinition, field: string): number =>
    order[rightsTo(of, table.id).fields[field] as FieldLimit] ?? 0;
  return Object.keys(rightsTo(mine, table.id).fields).every(
    (field) => rightTo(theirs, 'see', table) === 'no' || limit(theirs, field) >= limit(mine, field),
  );
}
