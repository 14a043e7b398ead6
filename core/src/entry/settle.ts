import { type Condition, holds, pathsOf } from '../conditions/index.ts';
import { isBlank, sameValue, type Value } from '../fields/index.ts';
import type { Fill } from '../fills/index.ts';
import type { PreparedField } from '../forms/index.ts';
import { ask, assign, type Draft, fieldOf, readable, showValue } from './draft.ts';
import { narrowedBy } from './scope.ts';
import type { Found, Linked } from './state.ts';

/**
 * Settles all that depends on one field after its value changed: what it fills, and the dropdowns it narrows. `trail`
 * are the fields whose change led here; a loop of dependencies ends where it meets itself.
 */
export function settle(draft: Draft, id: string, trail: readonly string[] = []): void {
  if (trail.includes(id)) return;
  const here = [...trail, id];
  draft.settled[id] = draft.values[id] ?? null;
  const field = fieldOf(draft, id);
  if (!field) return;
  settleLink(draft, field, here);
  if (field.fill?.key) settleKey(draft, field, field.fill, here);
  for (const edge of draft.form.wiring.edges)
    if (edge.kind === 'narrows' && edge.from === id) settleChild(draft, edge.to, id, here);
}

function settleLink(draft: Draft, field: PreparedField, trail: readonly string[]): void {
  if (field.field.type !== 'link') return;
  const value = draft.values[field.id] ?? null;
  if (isBlank(value)) {
    if (field.fill && !field.fill.key) clearFilled(draft, field.id, field.fill, trail);
    return;
  }
  const linked = draft.linked[field.id];
  if (linked && field.factPaths.every((path) => path in linked.facts))
    useLinked(draft, field, { id: Number(value), ...linked }, trail);
  else ask(draft, { kind: 'lookup', field: field.id, id: Number(value) });
}

/** Takes the record that a link points at into use: its columns fill fields, and the parents that are still blank. */
export function useLinked(draft: Draft, field: PreparedField, found: Found, trail: readonly string[]): void {
  if (field.fill && !field.fill.key) applyFill(draft, field.id, field.fill, found, trail);
  fillParents(draft, field, found, trail);
}

function settleKey(draft: Draft, field: PreparedField, fill: Fill, trail: readonly string[]): void {
  const key = draft.values[field.id] ?? null;
  delete draft.missed[field.id];
  if (isBlank(key)) clearFilled(draft, field.id, fill, trail);
  else ask(draft, { kind: 'keyLookup', field: field.id, key });
}

/** Copies the found record into the form, pair by pair, under each pair's policy. */
export function applyFill(draft: Draft, by: string, fill: Fill, found: Found, trail: readonly string[]): void {
  for (const { from, to, policy } of fill.pairs) {
    const target = fieldOf(draft, to);
    if (!target || draft.given[to] || trail.includes(to)) continue;
    const present = draft.values[to] ?? null;
    const untouched = draft.origins[to]?.by === by && sameValue(draft.origins[to]?.value, present);
    if (policy === 'keep' && !isBlank(present) && !untouched) continue;
    const value = from === 'self' ? found.id : (found.facts[from] ?? null);
    if (sameValue(value, present) && !isBlank(value) && untouched) continue;
    const linked = from === 'self' && covers(target, found) ? { title: found.title, facts: found.facts } : undefined;
    assign(draft, to, value, linked);
    draft.origins[to] = { by, value };
    settle(draft, to, trail);
  }
}

/** True when a found record already tells all that a link field wants to know of it. */
const covers = (field: PreparedField, found: Found): boolean =>
  found.title !== '' && field.factPaths.every((path) => path in found.facts);

/** Clears what a field filled and nobody touched since, or could touch. */
export function clearFilled(draft: Draft, by: string, fill: Fill, trail: readonly string[]): void {
  for (const { to } of fill.pairs) {
    const origin = draft.origins[to];
    const untouched = origin?.by === by && sameValue(origin.value, draft.values[to]);
    const onlyFilled = fieldOf(draft, to)?.readOnly === true;
    if (isBlank(draft.values[to]) || !(untouched || onlyFilled)) continue;
    assign(draft, to, null);
    settle(draft, to, trail);
  }
}

/** A child chosen first fills its blank parents, where its own record says for certain what they are. */
function fillParents(draft: Draft, field: PreparedField, linked: Linked, trail: readonly string[]): void {
  for (const { column, parent } of certainParents(field.narrowing.where)) {
    const target = fieldOf(draft, parent);
    const value = linked.facts[column] ?? null;
    const open = target && !target.readOnly && isBlank(draft.values[parent]) && !draft.given[parent];
    if (!open || isBlank(value) || trail.includes(parent)) continue;
    assign(draft, parent, value);
    settle(draft, parent, trail);
  }
}

/** The pairs *column is form field* that hold for every choice: those not inside an `any` or `none` group. */
export function certainParents(condition: Condition): { column: string; parent: string }[] {
  if (condition.kind === 'group') return condition.match === 'all' ? condition.of.flatMap(certainParents) : [];
  if (condition.operator !== 'is' || !('right' in condition)) return [];
  const { left, right } = condition;
  if (left.kind === 'column' && right.kind === 'form' && !right.path.includes('.'))
    return [{ column: left.path, parent: right.path }];
  if (left.kind === 'form' && right.kind === 'column' && !left.path.includes('.'))
    return [{ column: right.path, parent: left.path }];
  return [];
}

/** A child whose parent changed: what still applies stays, what does not is cleared, and what is not known is asked. */
function settleChild(draft: Draft, id: string, parent: string, trail: readonly string[]): void {
  delete draft.choices[id];
  delete draft.waiting[`choices:${id}`];
  const child = fieldOf(draft, id);
  if (!child || isBlank(draft.values[id]) || draft.phase === 'submitted' || trail.includes(id)) return;
  if (isBlank(draft.values[parent]) && ties(child.narrowing.where, parent)) {
    clearChild(draft, id, parent, trail);
    return;
  }
  const where = narrowedBy(readable(draft), id);
  const facts = draft.linked[id]?.facts;
  const known = child.source?.column === undefined && facts && pathsOf(where, 'column').every((path) => path in facts);
  if (!known) {
    ask(draft, { kind: 'check', field: id, values: { ...draft.values } });
    return;
  }
  const read = (path: string): Value => facts[path] ?? null;
  const fits = holds(where, (o) => (o.kind === 'column' ? read(o.path) : o.kind === 'constant' ? o.value : null));
  if (!fits) clearChild(draft, id, parent, trail);
}

/** True when a narrowing says that a column *is* the parent: then a choice without its parent has lost its place. */
const ties = (where: Condition, parent: string): boolean =>
  certainParents(where).some((pair) => pair.parent === parent);

/** Clears a child that no longer applies, says what it was, and settles what hangs on it. */
export function clearChild(draft: Draft, id: string, parent: string, trail: readonly string[]): void {
  const was = showValue(draft, id);
  assign(draft, id, null);
  const [cause, now] = [fieldOf(draft, parent), showValue(draft, parent)];
  const why = now === '' || now === '…' ? `${cause?.label} changed` : `it does not belong to “${now}”`;
  draft.notices[id] = `“${was}” was cleared: ${why}.`;
  settle(draft, id, trail);
}
