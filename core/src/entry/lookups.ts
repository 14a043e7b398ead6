import type { Value } from '../fields/index.ts';
import type { Fill, Origin } from '../fills/index.ts';
import type { PreparedField } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import { applyFill, clearFilled, propagate } from './propagate.ts';
import type { FoundRecord, LinkedRecord } from './state.ts';
import { assign, fieldState, updateField, type WorkingState } from './workingState.ts';

/** Applies what a key found: a single record fills; none, or several, leave a message, and of several one can be chosen. */
export function takeKeyed(
  working: WorkingState,
  field: PreparedField,
  fill: Fill,
  found: readonly FoundRecord[],
): void {
  const [first] = found;
  const chosen =
    found.length === 1
      ? first
      : found.find((one) => one.id === (fieldState(working, field.id).picked ?? recordTellingApart(working, fill)));
  if (chosen) {
    applyFill(working, field.id, fill, chosen, [field.id]);
    return;
  }
  clearFilled(working, field.id, fill, [field.id]);
  const stops = fill.whenNone === 'refuse';
  const source = working.form.tables.get(fill.table)?.label ?? '';
  if (found.length > 1) {
    const message = say('Several records of {table} have this {field}. Choose which one is meant.', {
      table: source,
      field: field.label,
    });
    updateField(working, field.id, { lookupFailure: { kind: 'several', message, stops, found } });
  } else if (fill.whenNone !== 'nothing') {
    const message = say('No record of {table} has this {field}.', { table: source, field: field.label });
    const adds = fill.whenNone === 'offer' ? { adds: true as const } : {};
    updateField(working, field.id, { lookupFailure: { kind: 'none', message, stops, ...adds } });
  }
}

/** The record that was submitted in the link of this fill: it decides between several that were found. */
function recordTellingApart(working: WorkingState, fill: Fill): Value {
  const self = fill.pairs.find((pair) => pair.from === 'self');
  return self && fieldState(working, self.to).submitted ? (working.values[self.to] ?? null) : null;
}

/** Sets a field to a filled value and its origin: for an accepted offer, and for a field that is filled again. */
export function takeFilled(
  working: WorkingState,
  to: string,
  value: Value,
  origin: Origin,
  linked?: LinkedRecord,
): void {
  assign(working, to, value, linked);
  updateField(working, to, { origin: origin });
  propagate(working, to);
}
