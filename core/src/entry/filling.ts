import { isBlank, sameValue } from '../fields/index.ts';
import type { FillPair, Origin } from '../fills/index.ts';
import type { PreparedField } from '../forms/index.ts';
import { assign, type Draft, drop, fieldOf, own } from './draft.ts';
import type { Found } from './state.ts';

/**
 * Copies one column of a found record into the field that a pair names, under the pair’s policy. True when the field has
 * another value then, so that what depends on it has to be propagated.
 */
export function fillPair(
  draft: Draft,
  by: string,
  table: string,
  { from, to, policy }: FillPair,
  target: PreparedField,
  found: Found,
): boolean {
  const present = draft.values[to] ?? null;
  const value = from === 'self' ? found.id : (found.facts[from] ?? null);
  const origin: Origin = { by, value, table, record: found.id, title: found.title, from };
  const before = draft.origins[to];
  const untouched = before?.by === by && sameValue(before.value, present);
  if (draft.given[to]) {
    // What was sent stands. That it came from here, or was typed over what did, is remembered.
    if (sameValue(value, present) || policy === 'replace') own(draft, 'origins')[to] = origin;
    return false;
  }
  const occupied = !isBlank(present) && !untouched && !sameValue(value, present);
  if (policy === 'keep' && occupied) return false;
  const linked = from === 'self' && covers(target, found) ? { title: found.title, facts: found.facts } : undefined;
  if (policy === 'ask' && occupied && !target.readOnly) {
    own(draft, 'offers')[to] = { value, linked, origin };
    return false;
  }
  own(draft, 'origins')[to] = origin;
  if (sameValue(value, present) && !isBlank(value) && untouched) return false;
  assign(draft, to, value, linked);
  return true;
}

/** True when a found record already tells all that a link field wants to know of it. */
const covers = (field: PreparedField, found: Found): boolean =>
  found.title !== '' && field.factPaths.every((path) => path in found.facts);

/** Clears a field that `by` filled and nobody touched since, or could touch. True when it had a value. */
export function clearPair(draft: Draft, by: string, to: string): boolean {
  drop(draft, 'offers', to);
  const origin = draft.origins[to];
  const untouched = origin?.by === by && sameValue(origin.value, draft.values[to]);
  const onlyFilled = fieldOf(draft, to)?.readOnly === true;
  if (origin?.by === by) drop(draft, 'origins', to);
  if (draft.given[to] || fieldOf(draft, to)?.calculation) return false;
  if (isBlank(draft.values[to]) || !(untouched || onlyFilled)) return false;
  assign(draft, to, null);
  return true;
}
