import type { TableDefinition, Tables } from '../tables/index.ts';
import { rightTo, rightToHistory } from './rightTo.ts';
import { ACTIONS, type Action, type CabinetRight, type RoleDefinition } from './role.ts';

/** The rights of a role: to the cabinet, and what it may do with some records of at least one table that is no option list. */
export function rightsAnywhere(role: RoleDefinition, tables: Tables): (Action | 'history' | CabinetRight)[] {
  const records = [...tables.values()].filter((table) => table.kind === 'records');
  // An empty cabinet: what it would allow in the first table.
  const asked = records.length > 0 ? records : [FUTURE_TABLE];
  return [
    ...ACTIONS.filter((action) => asked.some((table) => rightTo(role, action, table) !== 'no')),
    ...(asked.some((table) => rightToHistory(role, table) !== 'no') ? (['history'] as const) : []),
    ...role.rights,
  ];
}

/** A table that no role names: what holds for tables that are made later. */
export const FUTURE_TABLE: TableDefinition = {
  id: '',
  cabinet: '',
  label: '',
  description: '',
  kind: 'records',
  title: null,
  fields: [],
  retired: [],
  card: [],
  rules: [],
  constraints: [],
  revision: 0,
};
