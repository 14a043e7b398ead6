import { all, type Condition, dayFrom, type Group, is, mapOperands } from '../conditions/index.ts';
import type { FieldId, TableDefinition } from '../tables/index.ts';
import { type Action, type Extent, type RoleDefinition, rightsTo } from './role.ts';

/** What a right comes to: *no*, *yes*, or a condition on the columns of the record, which may ask who asks and when. */
export type Verdict = 'no' | 'yes' | Group;

/** Records that one has added oneself. */
const OWN: Group = all(is({ kind: 'column', path: 'created_by' }, { kind: 'account' }));

/**
 * Whether a role may do something with records of a table or, with `field`, with this field of theirs. Nobody changes,
 * archives or exports what they do not see. An option list is a definition: everybody sees it, and who builds changes it.
 */
export function rightTo(role: RoleDefinition, action: Action, table: TableDefinition, field?: FieldId): Verdict {
  const builds = role.rights.includes('build');
  if (table.kind === 'list') return action === 'see' || action === 'export' || builds ? 'yes' : 'no';
  // Rules and types are tried on all records: whoever works on these sees everything.
  if (builds) return 'yes';
  const limit = field === undefined ? undefined : rightsTo(role, table.id).fields[field];
  const writes = action !== 'see' && action !== 'export';
  if (limit !== undefined && writes) return 'no';
  if (limit === 'hidden' && !erases(role)) return 'no';
  return ofTable(role, action, table);
}

/** Whoever erases records sees all of them, and what is in them. */
const erases = (role: RoleDefinition): boolean => role.rights.includes('erase');

function ofTable(role: RoleDefinition, action: Action, table: TableDefinition): Verdict {
  const rights = rightsTo(role, table.id);
  const see = erases(role) ? 'yes' : verdictOf(rights.see);
  switch (action) {
    case 'see':
      return see;
    case 'export':
      return erases(role) ? 'yes' : both(verdictOf(rights.export), see);
    case 'add':
      return verdictOf(rights.add);
    case 'import':
      return both(verdictOf(rights.import), verdictOf(rights.add));
    default:
      return both(verdictOf(rights[action]), see);
  }
}

function verdictOf(extent: Extent): Verdict {
  if (extent === 'none') return 'no';
  if (extent === 'all') return 'yes';
  // A condition that is not written yet names no record: see `conditionMisfit`.
  return extent === 'own' ? OWN : extent;
}

/** What two verdicts come to together. */
export function both(a: Verdict, b: Verdict): Verdict {
  if (a === 'no' || b === 'no') return 'no';
  if (a === 'yes') return b;
  return b === 'yes' || JSON.stringify(a) === JSON.stringify(b) ? a : all(a, b);
}

/** Who asks, and the civil moment. */
export interface Asking {
  readonly account: string;
  readonly now: string;
}

/** A condition of a right with who asks and the day in it: columns and constants are left. */
export const resolveRight = (condition: Condition, { account, now }: Asking): Condition =>
  mapOperands(condition, (operand) => {
    if (operand.kind === 'account') return { kind: 'constant', value: account };
    return operand.kind === 'today' ? { kind: 'constant', value: dayFrom(now, operand) } : operand;
  });

/** Whether the change histories of a table's records are read: *no*, *yes*, or of which records. */
export function rightToHistory(role: RoleDefinition, table: TableDefinition): Verdict {
  if (role.history === 'none') return 'no';
  const seen = rightTo(role, 'see', table);
  return role.history === 'own' ? both(seen, OWN) : seen;
}
