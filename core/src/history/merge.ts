import { sameValue, type Value, type Values } from '../fields/index.ts';

/** What became of two people’s changes of one record. */
export interface Merged {
  /** What to write over what stands there now: the fields that only this person changed. */
  readonly values: Values;
  /** The fields that both changed, to different values: a person decides. */
  readonly conflicts: readonly string[];
}

/**
 * Lays what one person sent over what another has saved meanwhile. `base` is the record as the person saw it, `mine`
 * what was sent, `theirs` what stands there now. A field that both changed to the same value is no conflict.
 */
export function mergeValues(base: Values, mine: Values, theirs: Values): Merged {
  const values: Record<string, Value> = {};
  const conflicts: string[] = [];
  for (const [field, value] of Object.entries(mine)) {
    if (sameValue(value, base[field]) || sameValue(value, theirs[field])) continue;
    values[field] = value;
    if (!sameValue(base[field], theirs[field])) conflicts.push(field);
  }
  return { values, conflicts };
}
