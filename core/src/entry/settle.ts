import type { Condition } from '../conditions/index.ts';
import { isBlank } from '../fields/index.ts';
import type { Fill } from '../fills/index.ts';
import { ENCLOSING, type PreparedField } from '../forms/index.ts';
import { certainPairs } from '../narrowing/index.ts';
import { findField } from '../tables/index.ts';
import { ask, assign, type Draft, drop, fieldOf, own, showValue } from './draft.ts';
import { clearPair, fillPair } from './filling.ts';
import { askMatch, askWhetherItFits, chooseOnly } from './questions.ts';
import { readable } from './readable.ts';
import { fitsNarrowing, readMover } from './scope.ts';
import type { Found, Linked } from './state.ts';

/**
 * Settles all that depends on one field after its value changed: what it fills, and the dropdowns it narrows. `trail`
 * are the fields whose change led here; a loop of dependencies ends where it meets itself. When a field was only
 * `shown` or hidden, it fills nothing anew.
 */
export function settle(draft: Draft, id: string, trail: readonly string[] = [], because?: 'shown'): void {
  if (trail.includes(id)) return;
  const here = [...trail, id];
  const field = fieldOf(draft, id);
  if (because === undefined) {
    own(draft, 'settled')[id] = draft.values[id] ?? null;
    if (field) settleLink(draft, field, here);
    if (field?.fill?.key) settleKey(draft, field, field.fill, here);
  }
  for (const edge of draft.form.wiring.from.get(id) ?? [])
    if (edge.kind === 'narrows') settleChild(draft, edge.to, id, here);
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

/** A child chosen first fills its blank parents, where its own record says for certain what they are. */
function fillParents(draft: Draft, field: PreparedField, linked: Linked, trail: readonly string[]): void {
  for (const { column, parent } of certainPairs(field.narrowing.where)) {
    const target = fieldOf(draft, parent);
    const value = linked.facts[column] ?? null;
    const blank = isBlank(draft.values[parent]) && !draft.unread[parent];
    const open = target && !target.readOnly && blank && !draft.given[parent];
    if (!open || isBlank(value) || trail.includes(parent)) continue;
    assign(draft, parent, value);
    drop(draft, 'origins', parent);
    settle(draft, parent, trail);
  }
}

/** A child whose parent changed: what still applies stays, what does not is cleared, and what is not known is asked. */
export function settleChild(draft: Draft, id: string, parent: string, trail: readonly string[]): void {
  drop(draft, 'choices', id);
  drop(draft, 'waiting', `choices:${id}`);
  const child = fieldOf(draft, id);
  if (!child || trail.includes(id)) return;
  // What was typed may be among the choices now; without the parent, nothing is found behind a person's back.
  const unread = child.source && draft.phase !== 'submitted' ? draft.unread[id] : undefined;
  if (unread) {
    if (`match:${id}` in draft.waiting || !isBlank(readMover(readable(draft), parent))) askMatch(draft, id, unread);
    return;
  }
  if (isBlank(draft.values[id])) {
    chooseOnly(draft, child);
    return;
  }
  if (draft.phase === 'submitted') return;
  if (isBlank(readMover(readable(draft), parent)) && ties(child.narrowing.where, parent)) {
    clearChild(draft, id, parent, trail);
    return;
  }
  const facts = child.source?.column === undefined ? draft.linked[id]?.facts : undefined;
  const fits = facts && fitsNarrowing(readable(draft), id, facts);
  if (fits === undefined) askWhetherItFits(draft, id);
  else if (!fits) clearChild(draft, id, parent, trail);
}

/** True when a narrowing says that a column *is* the parent: then a choice without its parent has lost its place. */
const ties = (where: Condition, parent: string): boolean => certainPairs(where).some((pair) => pair.parent === parent);

/** Clears a child that no longer applies, says what it was, and settles what hangs on it. */
export function clearChild(draft: Draft, id: string, parent: string, trail: readonly string[]): void {
  const was = showValue(draft, id);
  assign(draft, id, null);
  drop(draft, 'origins', id);
  const [cause, now] = [moverLabel(draft, parent), showValue(draft, parent)];
  const why = now === '' || now === '…' ? `${cause} changed` : `it does not belong to “${now}”`;
  own(draft, 'notices')[id] = `“${was}” was cleared: ${why}.`;
  settle(draft, id, trail);
  const child = fieldOf(draft, id);
  if (child) chooseOnly(draft, child);
}

/** The label of a field of the form or, in a line, of the record around it. */
function moverLabel(draft: Draft, mover: string): string {
  const outer = mover.startsWith(ENCLOSING) ? mover.slice(ENCLOSING.length) : undefined;
  if (outer !== undefined) return findField(draft.form.enclosure?.table, outer)?.label ?? outer;
  return fieldOf(draft, mover)?.label ?? mover;
}

/** Asks for the record that a typed key names; without a key, what it filled is cleared. */
function settleKey(draft: Draft, field: PreparedField, fill: Fill, trail: readonly string[]): void {
  const key = draft.values[field.id] ?? null;
  drop(draft, 'missed', field.id);
  drop(draft, 'several', field.id);
  if (isBlank(key)) clearFilled(draft, field.id, fill, trail);
  else ask(draft, { kind: 'keyLookup', field: field.id, key });
}

/** Copies the found record into the form, pair by pair, under each pair's policy. */
export function applyFill(draft: Draft, by: string, fill: Fill, found: Found, trail: readonly string[]): void {
  for (const pair of fill.pairs) {
    const target = fieldOf(draft, pair.to);
    // What is calculated follows from other fields, whatever a record says.
    if (!target || target.calculation || trail.includes(pair.to)) continue;
    if (fillPair(draft, by, fill.table, pair, target, found)) settle(draft, pair.to, trail);
  }
}

/** Clears what a field filled and nobody touched since, or could touch. */
export function clearFilled(draft: Draft, by: string, fill: Fill, trail: readonly string[]): void {
  for (const { to } of fill.pairs) if (clearPair(draft, by, to)) settle(draft, to, trail);
}
