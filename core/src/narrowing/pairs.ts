import type { Condition, Operand } from '../conditions/index.ts';
import { isBlank, type Value } from '../fields/index.ts';

/** The pairs *column is form field* that hold for every choice: those not inside an `any` or `none` group. */
export function certainPairs(condition: Condition): { column: string; parent: string }[] {
  if (condition.kind === 'group') return condition.match === 'all' ? condition.of.flatMap(certainPairs) : [];
  if (condition.operator !== 'is' || !('right' in condition)) return [];
  const { left, right } = condition;
  if (left.kind === 'column' && right.kind === 'form' && !right.path.includes('.'))
    return [{ column: left.path, parent: right.path }];
  if (left.kind === 'form' && right.kind === 'column' && !left.path.includes('.'))
    return [{ column: right.path, parent: left.path }];
  return [];
}

/**
 * What a record has to say to be among the choices, as far as that is certain: the columns that `is` conditions compare
 * with something known. For a new one, which is begun with it. Columns behind links are left out.
 */
export function wantedOf(condition: Condition, read: (operand: Operand) => Value): Record<string, Value> {
  const wanted: Record<string, Value> = {};
  const visit = (one: Condition): void => {
    if (one.kind === 'group') {
      if (one.match === 'all') for (const inner of one.of) visit(inner);
      return;
    }
    if (one.operator !== 'is' || !('right' in one)) return;
    const [column, other] = one.left.kind === 'column' ? [one.left, one.right] : [one.right, one.left];
    if (column.kind !== 'column' || column.path.includes('.') || other.kind === 'column') return;
    const value = read(other);
    if (!isBlank(value)) wanted[column.path] = value;
  };
  visit(condition);
  return wanted;
}
