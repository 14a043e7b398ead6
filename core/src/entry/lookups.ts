import type { Value } from '../fields/index.ts';
import type { Fill, Origin } from '../fills/index.ts';
import type { PreparedField } from '../forms/index.ts';
import { assign, type Draft, own } from './draft.ts';
import { applyFill, clearFilled, settle } from './settle.ts';
import type { Found, Linked } from './state.ts';

/** What a key found: one record fills, none and several are said, and of several a person may choose one. */
export function takeKeyed(draft: Draft, field: PreparedField, fill: Fill, found: readonly Found[]): void {
  const [first] = found;
  const chosen =
    found.length === 1 ? first : found.find((one) => one.id === (draft.picked[field.id] ?? recordChosen(draft, fill)));
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
function recordChosen(draft: Draft, fill: Fill): Value {
  const self = fill.pairs.find((pair) => pair.from === 'self');
  return self && draft.given[self.to] ? (draft.values[self.to] ?? null) : null;
}

/** Puts a value into a field together with where it came from: an offer that was taken, a fill that was wanted again. */
export function takeFilled(draft: Draft, to: string, value: Value, origin: Origin, linked?: Linked): void {
  assign(draft, to, value, linked);
  own(draft, 'origins')[to] = origin;
  settle(draft, to);
}
