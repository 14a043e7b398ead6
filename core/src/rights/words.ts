import { describeCondition } from '../conditions/index.ts';
import { namesOf } from '../forms/index.ts';
import type { FieldChange } from '../history/index.ts';
import { say, sayLater } from '../languages/index.ts';
import type { FieldId, TableId, Tables } from '../tables/index.ts';
import { recordsInFilter } from '../views/index.ts';
import { ACTION_LABELS } from './misfit.ts';
import {
  ACTIONS,
  type CabinetRight,
  type Extent,
  type FieldLimit,
  type HISTORIES,
  type RoleDefinition,
  type TableRights,
} from './role.ts';

export const EXTENT_WORDS = { none: sayLater('none'), own: sayLater('own'), all: sayLater('all') } as const;
export const LIMIT_WORDS: Readonly<Record<FieldLimit, string>> = {
  readOnly: sayLater('read-only'),
  hidden: sayLater('hidden'),
};
export const RIGHT_LABELS: Readonly<Record<CabinetRight, string>> = {
  ledger: sayLater('Read the ledger'),
  build: sayLater('Build tables and forms'),
  people: sayLater('Manage people'),
  outbox: sayLater('Read the outbox'),
  erase: sayLater('Erase records for good'),
};
export const HISTORY_WORDS: Readonly<Record<(typeof HISTORIES)[number], string>> = {
  none: 'none',
  own: sayLater('own records'),
  seen: sayLater('records that are seen'),
  all: sayLater('all, of erased records too'),
};

/** How records of a table are named by an extent: `all`, `where Harbour is Gannet Quay`; `titles` by `table:id`. */
export function extentWords(
  extent: Extent,
  table: TableId,
  tables: Tables,
  titles: ReadonlyMap<string, string> = new Map(),
): string {
  if (typeof extent === 'string') return say(EXTENT_WORDS[extent]);
  const names = namesOf({ tables, table, choices: table, titles });
  return say('where {extent}', {
    extent: describeCondition(extent, {
      ...names,
      nameOf: (one) => ('path' in one && one.path === 'created_by' ? say('Created by') : names.nameOf(one)),
    }),
  });
}

/** What the lines of a ledger hold of a role. */
interface Captured {
  readonly label?: string;
  readonly rights?: readonly CabinetRight[];
  readonly reach?: Omit<RoleDefinition, 'label' | 'rights'>;
}

/** What a line changed in a role, in words; nothing of it can be put back from there. */
export function describeRole(
  before: Captured | null,
  after: Captured | null,
  tables: Tables,
  titles: ReadonlyMap<string, string>,
): FieldChange[] {
  const [was, is] = [before, after].map((one) => partsOf(one, tables, titles)) as [
    Map<string, string>,
    Map<string, string>,
  ];
  return [...new Set([...was.keys(), ...is.keys()])].flatMap((label) => {
    const [old, now] = [was.get(label) ?? '', is.get(label) ?? ''];
    return old === now ? [] : [{ field: label, label, before: old, after: now, was: null }];
  });
}

/** All that is said of a role, each under a name. */
function partsOf(role: Captured | null, tables: Tables, titles: ReadonlyMap<string, string>): Map<string, string> {
  const parts = new Map<string, string>();
  if (role?.label !== undefined) parts.set(say('Label'), role.label);
  if (role?.rights !== undefined) parts.set(say('Rights'), role.rights.map((one) => say(RIGHT_LABELS[one])).join(', '));
  const { reach } = role ?? {};
  if (!reach) return parts;
  parts.set(say('Change histories'), say(HISTORY_WORDS[reach.history]));
  parts.set(say('Second factor'), reach.secondFactor ? say('required') : '');
  parts.set(say('Forms that it does not get'), reach.closedForms.join(', '));
  const add = (name: string, id: TableId, rights: TableRights): void => {
    for (const action of ACTIONS)
      parts.set(`${name}: ${say(ACTION_LABELS[action])}`, extentWords(rights[action], id, tables, titles));
    for (const [field, limit] of Object.entries(rights.fields))
      parts.set(`${name}: ${fieldLabel(tables, id, field)}`, say(LIMIT_WORDS[limit]));
  };
  add(say('All other tables'), '', reach.others);
  // A table that is not named has what all others have.
  for (const { id, label } of tables.values()) add(label, id, reach.tables[id] ?? reach.others);
  return parts;
}

const fieldLabel = (tables: Tables, table: TableId, field: FieldId): string => {
  const definition = tables.get(table);
  const found = [...(definition?.fields ?? []), ...(definition?.retired ?? [])].find((one) => one.id === field);
  return found?.label ?? field;
};

/** The records that the conditions of a role name, for their titles. */
export function recordsNamed(role: Captured | null, tables: Tables): { table: TableId; id: number }[] {
  return Object.entries(role?.reach?.tables ?? {}).flatMap(([table, rights]) =>
    ACTIONS.flatMap((action) => {
      const extent = rights[action];
      return typeof extent === 'object' ? recordsInFilter(extent, table, tables) : [];
    }),
  );
}
