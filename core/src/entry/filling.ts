import { isBlank, sameValue } from '../fields/index.ts';
import type { FillPair, Origin } from '../fills/index.ts';
import type { PreparedField } from '../forms/index.ts';
import type { TableId } from '../tables/index.ts';
import type { FoundRecord } from './state.ts';
import { assign, fieldOf, fieldState, updateField, type WorkingState } from './workingState.ts';

/**
 * Copies one column of a found record into the field that a pair names, under the pair’s policy. True when the field has
 * another value then, so that what depends on it has to be propagated.
 */
export function fillPair(
  working: WorkingState,
  by: string,
  table: TableId,
  { from, to, policy }: FillPair,
  target: PreparedField,
  found: FoundRecord,
): boolean {
  const present = working.values[to] ?? null;
  const value = from === 'self' ? found.id : (found.facts[from] ?? null);
  const origin: Origin = { by, value, table, record: found.id, title: found.title, from };
  const before = fieldState(working, to).origin;
  const untouched = before?.by === by && sameValue(before.value, present);
  if (fieldState(working, to).submitted) {
    // A submitted value stays. Its origin is kept, so that the difference can be shown.
    if (sameValue(value, present) || policy === 'replace') updateField(working, to, { origin: origin });
    return false;
  }
  const occupied = !isBlank(present) && !untouched && !sameValue(value, present);
  if (policy === 'keep' && occupied) return false;
  const linked = from === 'self' && covers(target, found) ? { title: found.title, facts: found.facts } : undefined;
  if (policy === 'ask' && occupied && !target.readOnly) {
    updateField(working, to, { offer: { value, linked, origin } });
    return false;
  }
  updateField(working, to, { origin: origin });
  if (sameValue(value, present) && !isBlank(value) && untouched) return false;
  assign(working, to, value, linked);
  return true;
}

/** True when a found record has every column that a link field reads. */
const covers = (field: PreparedField, found: FoundRecord): boolean =>
  found.title !== '' && field.factPaths.every((path) => path in found.facts);

/** Clears a field that `by` filled and that nobody has changed since. True when it had a value. */
export function clearPair(working: WorkingState, by: string, to: string): boolean {
  updateField(working, to, { offer: undefined });
  const origin = fieldState(working, to).origin;
  const untouched = origin?.by === by && sameValue(origin.value, working.values[to]);
  const onlyFilled = fieldOf(working, to)?.readOnly === true;
  if (origin?.by === by) updateField(working, to, { origin: undefined });
  if (fieldState(working, to).submitted || fieldOf(working, to)?.calculation) return false;
  if (isBlank(working.values[to]) || !(untouched || onlyFilled)) return false;
  assign(working, to, null);
  return true;
}
