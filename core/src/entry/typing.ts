import { isBlank, sameValue } from '../fields/index.ts';
import type { PreparedField } from '../forms/index.ts';
import type { Choice } from '../narrowing/index.ts';
import { typeOf } from '../tables/index.ts';
import { propagate } from './propagate';
import { askForMatch, sendDeferredMatches } from './questions.ts';
import type { LinkedRecord, Unparsed } from './state.ts';
import { assign, drop, fieldOf, mutable, type WorkingState } from './workingState';

/** Whether a person can write in a field. */
export const editable = (working: WorkingState, id: string): boolean => fieldOf(working, id)?.readOnly === false;

/** A value that was typed over keeps the memory of what filled it; a field that was emptied does not. */
export function forgetOrigin(working: WorkingState, id: string): void {
  if (isBlank(working.values[id])) drop(working, 'origins', id);
}

/** Reads what is being typed; it takes effect on other fields when it is left. */
export function setText(working: WorkingState, id: string, text: string): void {
  const field = fieldOf(working, id)?.field;
  if (!field || !editable(working, id)) return;
  const read = typeOf(field).parse(text, field.settings);
  if (read.ok && sameValue(read.value, working.values[id]) && !working.unparsed[id]) return;
  assign(working, id, read.ok ? read.value : null);
  if (read.ok) forgetOrigin(working, id);
  if (!read.ok) mutable(working, 'unparsed')[id] = { text, message: read.message };
}

/** What was typed takes effect on other fields when it is left, not at every keystroke. */
export function propagateTyped(working: WorkingState, id: string): void {
  if (!(id in working.propagated) || !sameValue(working.values[id], working.propagated[id])) propagate(working, id);
}

export const unmatched = (text: string): Unparsed => ({
  text,
  message: `No choice is called “${text}”. Choose one of the list.`,
});

/** Takes a pasted text into a field: read like typing where it can be, looked for where it names a choice. */
export function matchPasted(working: WorkingState, id: string, text: string): void {
  const field = fieldOf(working, id);
  if (!field || !editable(working, id)) return;
  mutable(working, 'touched')[id] = true;
  if (!field.source || text === '') {
    setText(working, id, text);
    propagateTyped(working, id);
    return;
  }
  assign(working, id, null);
  propagateTyped(working, id);
  askForMatch(working, id, { text, message: '' });
}

/** Text that was typed into a dropdown and left before its choices were there. What stood there stands until then. */
export function matchTyped(working: WorkingState, id: string, text: string): void {
  if (!editable(working, id)) return;
  mutable(working, 'touched')[id] = true;
  askForMatch(working, id, { text, message: '', near: true });
}

/** The choice that a text means, or that there is none. */
export function takeMatch(working: WorkingState, id: string, choice: Choice | null): void {
  const field = fieldOf(working, id);
  const unread = working.unparsed[id];
  if (!field || unread === undefined) return;
  if (!choice) {
    assign(working, id, null);
    forgetOrigin(working, id);
    mutable(working, 'unparsed')[id] = unmatched(unread.text);
    propagateTyped(working, id);
    sendDeferredMatches(working, id);
    return;
  }
  assign(working, id, choice.value, linkedRecordOf(field, choice));
  propagate(working, id);
}

/** The record of a choice, where a choice is one; a word of an option list is none. */
export const linkedRecordOf = (field: PreparedField, choice: Choice): LinkedRecord | undefined =>
  field.source?.column === undefined ? { title: choice.title, facts: choice.facts } : undefined;
