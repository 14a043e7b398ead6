import { type Condition, operandsOf, pathsOf } from '../conditions/index.ts';
import type { Problem } from '../fields/index.ts';
import { say, sayLater } from '../languages/index.ts';
import { isStamp } from '../queries/index.ts';
import { fieldAtPath, type TableDefinition, type Tables } from '../tables/index.ts';
import { ACTIONS, type Action, type RoleDefinition, type TableRights } from './role.ts';

/** Words of the actions, as labels have them. */
export const ACTION_LABELS: Readonly<Record<Action, string>> = {
  see: sayLater('See'),
  add: sayLater('Add'),
  change: sayLater('Change'),
  archive: sayLater('Archive'),
  export: sayLater('Export'),
  import: sayLater('Import'),
};

/**
 * What is wrong with a role for a cabinet with these tables: conditions that no record can be held against. Paths name
 * the table and the action: `tables.quay_stays.see`.
 */
export function roleProblems(role: RoleDefinition, tables: Tables): Problem[] {
  const problems: Problem[] = [];
  for (const [id, rights] of Object.entries(role.tables)) {
    const table = tables.get(id);
    // Rights to a table that has gone stay, and mean nothing.
    if (table) problems.push(...ofTable(rights, table, tables));
  }
  if (ACTIONS.some((action) => typeof role.others[action] === 'object'))
    problems.push({
      path: 'others',
      rule: 'condition',
      message: say('A condition names fields of one table. Give it to that table, not to all others.'),
    });
  return problems;
}

function ofTable(rights: TableRights, table: TableDefinition, tables: Tables): Problem[] {
  return ACTIONS.flatMap((action): Problem[] => {
    const extent = rights[action];
    if (typeof extent !== 'object') return [];
    const message = conditionMisfit(extent, table, tables);
    return message === undefined ? [] : [{ path: `tables.${table.id}.${action}`, rule: 'condition', message }];
  });
}

/** Why a condition cannot name records of a table, in words; undefined when it can. */
export function conditionMisfit(condition: Condition, table: TableDefinition, tables: Tables): string | undefined {
  const gone = pathsOf(condition, 'column').find((path) => !isStamp(path) && !fieldAtPath(tables, table.id, path));
  if (gone !== undefined)
    return say('{gone} is not a field of {label} any more. Change or remove its condition.', {
      gone,
      label: table.label,
    });
  if (operandsOf(condition).some((one) => one.kind === 'form' || one.kind === 'enclosing' || one.kind === 'asked'))
    return say('A right to records of {label} compares their own fields: it reads no form and asks nobody.', {
      label: table.label,
    });
  return isEmpty(condition) ? say('Say which records: choose a field and what it is.') : undefined;
}

const isEmpty = (condition: Condition): boolean => condition.kind === 'group' && condition.of.every(isEmpty);
