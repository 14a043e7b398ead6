import { expressionOver } from '../forms/index.ts';
import {
  type FieldDefinition,
  type FieldId,
  findField,
  linkedTable,
  type TableId,
  type Tables,
} from '../tables/index.ts';
import { rightTo } from './rightTo.ts';
import { type RoleDefinition, rightsTo } from './role.ts';

/** The fields that a role does not see, by table; tables of which it sees and adds nothing have no entry and are not there. */
export type Hidden = ReadonlyMap<TableId, ReadonlySet<FieldId>>;

/**
 * What a role does not see: the fields that are hidden from it, and those that are calculated from one of these or from a
 * table that it does not see.
 */
export function hiddenFrom(role: RoleDefinition, tables: Tables): Hidden {
  const hidden = new Map<TableId, Set<FieldId>>();
  for (const table of tables.values()) {
    if (rightTo(role, 'see', table) === 'no' && rightTo(role, 'add', table) === 'no') continue;
    const { fields } = rightsTo(role, table.id);
    const named = Object.keys(fields).filter(
      (id) => rightTo(role, 'see', table, id) === 'no' && fields[id] === 'hidden',
    );
    hidden.set(table.id, new Set(named));
  }
  const calculated = [...tables.values()].flatMap((table) =>
    hidden.has(table.id)
      ? table.fields.flatMap((field) =>
          field.calculation === null
            ? []
            : [{ table, field, reads: expressionOver(field.calculation, table, tables)?.reads ?? [] }],
        )
      : [],
  );
  // What is calculated from a hidden field hides what is calculated from it in turn.
  for (let more = true; more; ) {
    more = false;
    for (const { table, field, reads } of calculated) {
      const known = hidden.get(table.id);
      if (!known || known.has(field.id) || !reads.some((path) => isHiddenPath(hidden, tables, table.id, path)))
        continue;
      known.add(field.id);
      more = true;
    }
  }
  return hidden;
}

/** Whether a path of columns that begins in `table` reads something hidden. A step that is not there is not. */
export function isHiddenPath(hidden: Hidden, tables: Tables, table: TableId, path: string): boolean {
  const known = hidden.get(table);
  if (!known) return true;
  const [first = '', ...rest] = path.split('.');
  if (known.has(first)) return true;
  const next = linkedTable(findField(tables.get(table), first));
  return rest.length > 0 && next !== undefined && isHiddenPath(hidden, tables, next, rest.join('.'));
}

/** Whether a link points at a table that is not there for the role: what it points at cannot be chosen. */
export const pointsAtHidden = (hidden: Hidden, field: FieldDefinition): boolean => {
  const target = field.settings.table;
  return typeof target === 'string' && !hidden.has(target);
};
