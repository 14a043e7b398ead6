import type { Condition } from '../conditions/index.ts';

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
