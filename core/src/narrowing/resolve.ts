import {
  all,
  type Comparison,
  type Condition,
  dayFrom,
  EVERYTHING,
  type Group,
  holds,
  is,
  mapOperands,
  type Operand,
} from '../conditions/index.ts';
import { isBlank, itemsOf, type Value } from '../fields/index.ts';
import type { FieldId, TableId } from '../tables/index.ts';

/** What a narrowing is resolved against. */
export interface Scope {
  /** The value of this form's field, or of a column reached through its link. */
  read(path: string): Value;
  readonly account: string | null;
  /** The civil moment that `today` means. */
  readonly now: string;
  /** The value of a field of the record that encloses this one; blank where there is none. */
  enclosing(path: string): Value;
  /** The conditions on the choices of another field of this form, if it is a dropdown over a table of records. */
  narrowingOf(field: FieldId): { readonly table: TableId; readonly where: Group } | undefined;
  /** The table that a path of the choices' columns links to, seen from the choices' table. */
  targetOf(table: TableId, path: string): string | undefined;
}

/**
 * Puts the form's values into the conditions of a dropdown over `table`: what is left reads columns of the choices and
 * constants only.
 *
 * A condition whose form side is blank narrows nothing, so that a child may be chosen before its parent. But when the
 * blank parent is a dropdown that is itself narrowed, its own narrowing takes its place, one link further: with the
 * harbour chosen and the pontoon still blank, *Berths whose Pontoon is this form's Pontoon* becomes *Berths whose
 * Pontoon's Harbour is …*. So every ancestor counts, also across a gap.
 *
 * A condition on the form alone is decided here: *this form's Kind is Visitor* holds for all choices or for none.
 */
export function resolveNarrowing(table: TableId, where: Group, scope: Scope): Condition {
  return resolve(where, table, scope, new Set());
}

function resolve(condition: Condition, table: TableId, scope: Scope, passed: ReadonlySet<string>): Condition {
  if (condition.kind === 'group') {
    const of = condition.of.flatMap((one) => {
      const resolved = resolve(one, table, scope, passed);
      return isEverything(resolved) ? [] : [resolved];
    });
    // A group whose every condition fell away narrows nothing, whatever its kind.
    return of.length === 0 ? EVERYTHING : { ...condition, of };
  }
  if (!('right' in condition)) return condition.left.kind === 'column' ? condition : decided(condition, scope);
  const { left, right } = condition;
  if (left.kind !== 'column' && right.kind !== 'column') return decided(condition, scope);
  const blank = [left, right].find((operand) => blankOf(operand, scope));
  if (blank) return throughBlankParent(condition, blank, table, scope, passed);
  const [several, beside] = [left, right].map((operand) => itemsOf(valueAt(operand, scope))) as [Items, Items];
  if (several.length > 0) return amongSeveral(condition, right, several);
  if (beside.length > 0) return NEVER;
  return mapOperands(condition, (operand) => constant(operand, scope) ?? operand);
}

type Items = ReturnType<typeof itemsOf>;
/** A condition that holds for all choices, which a group keeps where it would leave out one that narrows nothing; and one that holds for none. */
const ALWAYS: Group = { kind: 'group', match: 'none', of: [] };
const NEVER: Group = { kind: 'group', match: 'any', of: [] };

/** A comparison that reads no column of the choices is the same for all of them: it holds or it does not. */
const decided = (comparison: Comparison, scope: Scope): Group =>
  holds(comparison, (operand) => valueAt(operand, scope)) ? ALWAYS : NEVER;

/** *This form’s services have the choice’s kind*, with the services put in: its kind is one of them. */
function amongSeveral(comparison: Comparison, column: Operand, items: Items): Group {
  const { operator } = comparison;
  if (operator !== 'has' && operator !== 'hasNot') return NEVER;
  const each = items.map((value) => is(column, { kind: 'constant', value }));
  if (operator === 'has') return { kind: 'group', match: 'any', of: each };
  // A blank column has nothing to say, here as everywhere.
  return all({ kind: 'compare', left: column, operator: 'isNotBlank' }, { kind: 'group', match: 'none', of: each });
}

const isEverything = (condition: Condition): boolean =>
  condition.kind === 'group' && condition.match === 'all' && condition.of.length === 0;

const isOpen = (operand: Operand): boolean => ['form', 'enclosing', 'account', 'asked'].includes(operand.kind);

const blankOf = (operand: Operand, scope: Scope): boolean => isOpen(operand) && isBlank(valueAt(operand, scope));

function valueAt(operand: Operand, scope: Scope): Value {
  switch (operand.kind) {
    case 'form':
      return scope.read(operand.path);
    case 'enclosing':
      return scope.enclosing(operand.path);
    case 'account':
      return scope.account;
    case 'today':
      return dayFrom(scope.now, operand);
    case 'constant':
      return operand.value;
    default:
      return null;
  }
}

function constant(operand: Operand, scope: Scope): Operand | undefined {
  const value = valueAt(operand, scope);
  return isBlank(value) || typeof value === 'object' ? undefined : { kind: 'constant', value };
}

function throughBlankParent(
  comparison: Comparison,
  blank: Operand,
  table: TableId,
  scope: Scope,
  passed: ReadonlySet<string>,
): Condition {
  if (blank.kind !== 'form' || comparison.operator !== 'is') return EVERYTHING;
  const column = comparison.left === blank ? comparison.right : comparison.left;
  const parent = scope.narrowingOf(blank.path);
  if (column.kind !== 'column' || !parent || passed.has(blank.path)) return EVERYTHING;
  if (scope.targetOf(table, column.path) !== parent.table) return EVERYTHING;
  const inherited = resolve(parent.where, parent.table, scope, new Set([...passed, blank.path]));
  if (isEverything(inherited)) return EVERYTHING;
  const prefixed = mapOperands(inherited, (operand) =>
    operand.kind === 'column' ? { kind: 'column', path: `${column.path}.${operand.path}` } : operand,
  );
  return all(prefixed);
}
