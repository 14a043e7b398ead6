import { EVERYTHING } from '@fiche/core/conditions';
import type { Action, Extent, FieldLimit, RoleDefinition, TableRights } from '@fiche/core/rights';
import type { FieldId, TableId } from '@fiche/core/tables';

/** What can be chosen for an action: a condition is written as a sentence once `where` is chosen. */
export type ExtentChoice = 'none' | 'own' | 'where' | 'all';

export const choiceOf = (extent: Extent): ExtentChoice => (typeof extent === 'string' ? extent : 'where');

/** What an action offers: nobody adds records of others, and an import is allowed or not. */
export const choicesFor = (action: Action, ofOneTable: boolean): ExtentChoice[] => {
  if (action === 'import') return ['none', 'all'];
  const where: ExtentChoice[] = ofOneTable ? ['where'] : [];
  return action === 'add' ? ['none', ...where, 'all'] : ['none', 'own', ...where, 'all'];
};

/** What a choice begins with: a condition without any part, to be written. */
export const extentOf = (choice: ExtentChoice): Extent => (choice === 'where' ? EVERYTHING : choice);

/** The rights to a table: its own, or those of all others. Null means all other tables. */
export const rightsShown = (role: RoleDefinition, table: TableId | null): TableRights =>
  (table === null ? undefined : role.tables[table]) ?? role.others;

const withRights = (role: RoleDefinition, table: TableId | null, rights: TableRights): RoleDefinition =>
  table === null ? { ...role, others: rights } : { ...role, tables: { ...role.tables, [table]: rights } };

/** A role with another extent of one action; a table that had the rights of all others has its own from then on. */
export const withExtent = (
  role: RoleDefinition,
  table: TableId | null,
  action: Action,
  extent: Extent,
): RoleDefinition => withRights(role, table, { ...rightsShown(role, table), [action]: extent } as TableRights);

/** A role with a field as it is, read-only or hidden. */
export function withLimit(
  role: RoleDefinition,
  table: TableId,
  field: FieldId,
  limit: FieldLimit | '',
): RoleDefinition {
  const rights = rightsShown(role, table);
  const { [field]: _before, ...others } = rights.fields;
  return withRights(role, table, { ...rights, fields: limit === '' ? others : { ...others, [field]: limit } });
}

/** A role whose table has the rights of all others again. */
export function asOthers(role: RoleDefinition, table: TableId): RoleDefinition {
  const { [table]: _own, ...tables } = role.tables;
  return { ...role, tables };
}

/** A list with or without one of its items, in its order. */
export const toggled = <T>(list: readonly T[], item: T, on: boolean, order: readonly T[]): T[] =>
  order.filter((one) => (one === item ? on : list.includes(one)));
