import type { Condition } from '../conditions/index.ts';
import { isBlank, linksOne } from '../fields/index.ts';
import type { Fill } from '../fills/index.ts';
import { ENCLOSING, type PreparedField } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import { certainPairs } from '../narrowing/index.ts';
import { findField } from '../tables/index.ts';
import { clearPair, fillPair } from './filling.ts';
import { askForMatch, askForOnlyChoice, askIfChoiceFits } from './questions.ts';
import { readable } from './readable.ts';
import { fitsNarrowing, readMover } from './scope.ts';
import type { FoundRecord, LinkedRecord } from './state.ts';
import {
  ask,
  assign,
  closeRequest,
  fieldOf,
  fieldState,
  openRequest,
  showValue,
  updateField,
  type WorkingState,
} from './workingState.ts';

/**
 * Propagates a field’s new value to the fields that it fills and the dropdowns that it narrows. `trail` are the fields whose
 * change led here: a loop of dependencies ends at a field that is in it. When a field was only `shown` or hidden, it fills
 * nothing again.
 */
export function propagate(working: WorkingState, id: string, trail: readonly string[] = [], because?: 'shown'): void {
  if (trail.includes(id)) return;
  const here = [...trail, id];
  const field = fieldOf(working, id);
  if (because === undefined) {
    updateField(working, id, { propagated: working.values[id] ?? null });
    if (field) propagateLink(working, field, here);
    if (field?.fill?.key) lookUpKey(working, field, field.fill, here);
  }
  for (const edge of working.form.wiring.from.get(id) ?? [])
    if (edge.kind === 'narrows') propagateToChild(working, edge.to, id, here);
}

function propagateLink(working: WorkingState, field: PreparedField, trail: readonly string[]): void {
  if (!linksOne(field.field)) return;
  const value = working.values[field.id] ?? null;
  if (isBlank(value)) {
    if (field.fill && !field.fill.key) clearFilled(working, field.id, field.fill, trail);
    return;
  }
  const linked = working.linked[field.id];
  if (linked && field.factPaths.every((path) => path in linked.facts))
    useLinked(working, field, { id: Number(value), ...linked }, trail);
  else ask(working, { kind: 'lookup', field: field.id, id: Number(value) });
}

/** Fills fields from the record that a link points to, and parents that are still blank. */
export function useLinked(
  working: WorkingState,
  field: PreparedField,
  found: FoundRecord,
  trail: readonly string[],
): void {
  if (field.fill && !field.fill.key) applyFill(working, field.id, field.fill, found, trail);
  fillParents(working, field, found, trail);
}

/** Fills the blank parents of a dropdown that was chosen first, where its record determines them. */
function fillParents(
  working: WorkingState,
  field: PreparedField,
  linked: LinkedRecord,
  trail: readonly string[],
): void {
  for (const { column, parent } of certainPairs(field.narrowing.where)) {
    const target = fieldOf(working, parent);
    const value = linked.facts[column] ?? null;
    const blank = isBlank(working.values[parent]) && !fieldState(working, parent).unparsed;
    const open = target && !target.readOnly && blank && !fieldState(working, parent).submitted;
    if (!open || isBlank(value) || trail.includes(parent)) continue;
    assign(working, parent, value);
    updateField(working, parent, { origin: undefined });
    propagate(working, parent, trail);
  }
}

/** After a parent changed: the child’s value stays where it still fits and is cleared where it does not; if unknown, it is asked. */
export function propagateToChild(working: WorkingState, id: string, parent: string, trail: readonly string[]): void {
  updateField(working, id, { choices: undefined });
  closeRequest(working, 'choices', id);
  const child = fieldOf(working, id);
  if (!child || trail.includes(id)) return;
  // Unparsed text may be among the choices now; while the parent is blank, nothing is matched.
  const unparsed = child.source && working.mode === 'filled' ? fieldState(working, id).unparsed : undefined;
  if (unparsed) {
    if (openRequest(working, 'match', id) !== undefined || !isBlank(readMover(readable(working), parent)))
      askForMatch(working, id, unparsed);
    return;
  }
  if (isBlank(working.values[id])) {
    askForOnlyChoice(working, child);
    return;
  }
  if (working.mode === 'replayed') return;
  if (isBlank(readMover(readable(working), parent)) && requiresParent(child.narrowing.where, parent)) {
    clearChild(working, id, parent, trail);
    return;
  }
  const facts = child.source?.column === undefined ? working.linked[id]?.facts : undefined;
  const fits = facts && fitsNarrowing(readable(working), id, facts);
  if (fits === undefined) askIfChoiceFits(working, id);
  else if (!fits) clearChild(working, id, parent, trail);
}

/** True when a narrowing says that a column *is* the parent: then a choice needs its parent. */
const requiresParent = (where: Condition, parent: string): boolean =>
  certainPairs(where).some((pair) => pair.parent === parent);

/** Clears a dropdown whose choice no longer fits, says what it was, and propagates that. */
export function clearChild(working: WorkingState, id: string, parent: string, trail: readonly string[]): void {
  const was = showValue(working, id);
  assign(working, id, null);
  updateField(working, id, { origin: undefined });
  const [cause, now] = [moverLabel(working, parent), showValue(working, parent)];
  const notice =
    now === '' || now === '…'
      ? say('“{value}” was cleared: {field} changed.', { value: was, field: cause })
      : say('“{value}” was cleared: it does not belong to “{parent}”.', { value: was, parent: now });
  updateField(working, id, { notice });
  propagate(working, id, trail);
  const child = fieldOf(working, id);
  if (child) askForOnlyChoice(working, child);
}

/** The label of a field of the form or, in a line, of the enclosing record. */
function moverLabel(working: WorkingState, mover: string): string {
  const outer = mover.startsWith(ENCLOSING) ? mover.slice(ENCLOSING.length) : undefined;
  if (outer !== undefined) return findField(working.form.enclosure?.table, outer)?.label ?? outer;
  return fieldOf(working, mover)?.label ?? mover;
}

/** Asks for the record that a typed key names; without a key, what it filled is cleared. */
function lookUpKey(working: WorkingState, field: PreparedField, fill: Fill, trail: readonly string[]): void {
  const key = working.values[field.id] ?? null;
  updateField(working, field.id, { lookupFailure: undefined });
  if (isBlank(key)) clearFilled(working, field.id, fill, trail);
  else ask(working, { kind: 'keyLookup', field: field.id, key });
}

/** Copies the found record into the form, pair by pair, under each pair's policy. */
export function applyFill(
  working: WorkingState,
  by: string,
  fill: Fill,
  found: FoundRecord,
  trail: readonly string[],
): void {
  for (const pair of fill.pairs) {
    const target = fieldOf(working, pair.to);
    // A calculated field is never filled.
    if (!target || target.calculation || trail.includes(pair.to)) continue;
    if (fillPair(working, by, fill.table, pair, target, found)) propagate(working, pair.to, trail);
  }
}

/** Clears the fields that a field filled and that nobody has changed since. */
export function clearFilled(working: WorkingState, by: string, fill: Fill, trail: readonly string[]): void {
  for (const { to } of fill.pairs) if (clearPair(working, by, to)) propagate(working, to, trail);
}
