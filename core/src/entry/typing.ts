import { isBlank, sameValue } from '../fields/index.ts';
import type { PreparedField } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import type { Choice } from '../narrowing/index.ts';
import { typeOf } from '../tables/index.ts';
import { propagate } from './propagate.ts';
import { askForMatch, sendDeferredMatches } from './questions.ts';
import type { LinkedRecord, Unparsed } from './state.ts';
import { assign, fieldOf, fieldState, updateField, type WorkingState } from './workingState.ts';

/** Whether a person can write in a field. */
export const editable = (working: WorkingState, id: string): boolean => fieldOf(working, id)?.readOnly === false;

/** Removes the origin of a field that was emptied; a filled value that was typed over keeps its origin. */
export function forgetOrigin(working: WorkingState, id: string): void {
  if (isBlank(working.values[id])) updateField(working, id, { origin: undefined });
}

/** Reads what is being typed. Other fields see the value when the field is left. */
export function setText(working: WorkingState, id: string, text: string): void {
  const field = fieldOf(working, id)?.field;
  if (!field || !editable(working, id)) return;
  const read = typeOf(field).parse(text, field.settings);
  if (read.ok && sameValue(read.value, working.values[id]) && !fieldState(working, id).unparsed) return;
  assign(working, id, read.ok ? read.value : null);
  if (read.ok) forgetOrigin(working, id);
  if (!read.ok) updateField(working, id, { unparsed: { text, message: read.message } });
}

/** Propagates what was typed since the last propagation: when the field is left, not at every keystroke. */
export function propagateTyped(working: WorkingState, id: string): void {
  const { propagated } = fieldState(working, id);
  if (propagated === undefined || !sameValue(working.values[id], propagated)) propagate(working, id);
}

export const unmatched = (text: string): Unparsed => ({
  text,
  message: say('No choice is called “{text}”. Choose one of the list.', { text }),
});

/** Puts pasted text into a field: read like typed text, or matched with the choices of a dropdown. */
export function matchPasted(working: WorkingState, id: string, text: string): void {
  const field = fieldOf(working, id);
  if (!field || !editable(working, id)) return;
  updateField(working, id, { touched: true });
  if (!field.source || text === '') {
    setText(working, id, text);
    propagateTyped(working, id);
    return;
  }
  assign(working, id, null);
  propagateTyped(working, id);
  askForMatch(working, id, { text, message: '' });
}

/** Matches text of a dropdown that was left before its choices had arrived. Its value stays until the answer. */
export function matchTyped(working: WorkingState, id: string, text: string): void {
  if (!editable(working, id)) return;
  updateField(working, id, { touched: true });
  askForMatch(working, id, { text, message: '', near: true });
}

/** Applies the answer to a match: the choice, or that there is none. */
export function takeMatch(working: WorkingState, id: string, choice: Choice | null): void {
  const field = fieldOf(working, id);
  const unparsed = fieldState(working, id).unparsed;
  if (!field || unparsed === undefined) return;
  if (!choice) {
    assign(working, id, null);
    forgetOrigin(working, id);
    updateField(working, id, { unparsed: unmatched(unparsed.text) });
    propagateTyped(working, id);
    sendDeferredMatches(working, id);
    return;
  }
  assign(working, id, choice.value, linkedRecordOf(field, choice));
  propagate(working, id);
}

/** The linked record of a choice; undefined for a word of an option list. */
export const linkedRecordOf = (field: PreparedField, choice: Choice): LinkedRecord | undefined =>
  field.source?.column === undefined ? { title: choice.title, facts: choice.facts } : undefined;
