import { type Condition, pathsOf } from '../conditions/index.ts';
import type { FieldId } from '../tables/index.ts';
import { certainPairs } from './pairs.ts';

/**
 * The columns of the choices that decide whether one of them applies: those that the conditions name, and, as a blank
 * parent's own narrowing takes its place, the columns that this reads one link further (`pontoon.harbour`).
 * `narrowingOf` gives the conditions of another dropdown of the form, or null.
 */
export function narrowingColumns(
  where: Condition,
  field: FieldId,
  narrowingOf: (field: FieldId) => Condition | null,
): string[] {
  const visit = (condition: Condition, passed: ReadonlySet<string>): string[] => {
    const further = certainPairs(condition).flatMap(({ column, parent }) => {
      const inherited = passed.has(parent) ? null : narrowingOf(parent);
      return inherited ? visit(inherited, new Set([...passed, parent])).map((path) => `${column}.${path}`) : [];
    });
    return [...pathsOf(condition, 'column'), ...further];
  };
  return [...new Set(visit(where, new Set([field])))];
}
