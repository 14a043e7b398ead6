import { isBlank, sameValue, type Value } from '../fields/index.ts';
import type { Fill, FillPair, Origin } from '../fills/index.ts';
import type { PreparedField } from '../forms/index.ts';
import { ask, assign, type Draft, drop, fieldOf, own } from './draft.ts';
import { settle } from './settle.ts';
import type { Found, Linked } from './state.ts';

export function settleKey(draft: Draft, field: PreparedField, fill: Fill, trail: readonly string[]): void {
  const key = draft.values[field.id] ?? null;
  drop(draft, 'missed', field.id);
  drop(draft, 'several', field.id);
  if (isBlank(key)) clearFilled(draft, field.id, fill, trail);
  else ask(draft, { kind: 'keyLookup', field: field.id, key });
}

/** What a key found: one record fills, none and several are said, and of several a person may choose one. */
export function takeKeyed(draft: Draft, field: PreparedField, fill: Fill, found: readonly Found[]): void {
  const [first] = found;
  const chosen =
    found.length === 1 ? first : found.find((one) => one.id === (draft.picked[field.id] ?? linkedBy(draft, fill)));
  if (chosen) {
    applyFill(draft, field.id, fill, chosen, [field.id]);
    return;
  }
  clearFilled(draft, field.id, fill, [field.id]);
  const source = draft.form.tables.get(fill.table)?.label ?? '';
  if (found.length > 1) {
    own(draft, 'several')[field.id] = found;
    own(draft, 'missed')[field.id] = {
      message: `Several records of ${source} have this ${field.label}. Choose which one is meant.`,
      stops: fill.whenNone === 'refuse',
    };
  } else if (fill.whenNone !== 'nothing')
    own(draft, 'missed')[field.id] = {
      message: `No record of ${source} has this ${field.label}.`,
      stops: fill.whenNone === 'refuse',
      ...(fill.whenNone === 'offer' ? { adds: true as const } : {}),
    };
}

/** The record that a fill with itself has put, or a person has chosen, into a link: it tells several apart. */
function linkedBy(draft: Draft, fill: Fill): Value {
  const self = fill.pairs.find((pair) => pair.from === 'self');
  return self && draft.given[self.to] ? (draft.values[self.to] ?? null) : null;
}

/** Copies the found record into the form, pair by pair, under each pair's policy. */
export function applyFill(draft: Draft, by: string, fill: Fill, found: Found, trail: readonly string[]): void {
  for (const pair of fill.pairs) {
    const target = fieldOf(draft, pair.to);
    // What is calculated follows from other fields, whatever a record says.
    if (target && !target.calculation && !trail.includes(pair.to))
      applyPair(draft, by, fill.table, pair, target, found, trail);
  }
}

function applyPair(
  draft: Draft,
  by: string,
  table: string,
  { from, to, policy }: FillPair,
  target: PreparedField,
  found: Found,
  trail: readonly string[],
): void {
  const present = draft.values[to] ?? null;
  const value = from === 'self' ? found.id : (found.facts[from] ?? null);
  const origin: Origin = { by, value, table, record: found.id, title: found.title, from };
  const before = draft.origins[to];
  const untouched = before?.by === by && sameValue(before.value, present);
  if (draft.given[to]) {
    // What was sent stands. That it came from here, or was typed over what did, is remembered.
    if (sameValue(value, present) || policy === 'replace') own(draft, 'origins')[to] = origin;
    return;
  }
  const occupied = !isBlank(present) && !untouched && !sameValue(value, present);
  if (policy === 'keep' && occupied) return;
  const linked = from === 'self' && covers(target, found) ? { title: found.title, facts: found.facts } : undefined;
  if (policy === 'ask' && occupied && !target.readOnly) {
    own(draft, 'offers')[to] = { value, linked, origin };
    return;
  }
  own(draft, 'origins')[to] = origin;
  if (sameValue(value, present) && !isBlank(value) && untouched) return;
  assign(draft, to, value, linked);
  settle(draft, to, trail);
}

/** Puts a value into a field together with where it came from: an offer that was taken, a fill that was wanted again. */
export function takeFilled(draft: Draft, to: string, value: Value, origin: Origin, linked?: Linked): void {
  assign(draft, to, value, linked);
  own(draft, 'origins')[to] = origin;
  settle(draft, to);
}

/** True when a found record already tells all that a link field wants to know of it. */
const covers = (field: PreparedField, found: Found): boolean =>
  found.title !== '' && field.factPaths.every((path) => path in found.facts);

/** Clears what a field filled and nobody touched since, or could touch. */
export function clearFilled(draft: Draft, by: string, fill: Fill, trail: readonly string[]): void {
  for (const { to } of fill.pairs) {
    drop(draft, 'offers', to);
    const origin = draft.origins[to];
    const untouched = origin?.by === by && sameValue(origin.value, draft.values[to]);
    const onlyFilled = fieldOf(draft, to)?.readOnly === true;
    if (origin?.by === by) drop(draft, 'origins', to);
    if (draft.given[to] || fieldOf(draft, to)?.calculation) continue;
    if (isBlank(draft.values[to]) || !(untouched || onlyFilled)) continue;
    assign(draft, to, null);
    settle(draft, to, trail);
  }
}
