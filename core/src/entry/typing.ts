import { isBlank, sameValue } from '../fields/index.ts';
import type { PreparedField } from '../forms/index.ts';
import type { Choice } from '../narrowing/index.ts';
import { typeOf } from '../tables/index.ts';
import { assign, type Draft, drop, fieldOf, own } from './draft.ts';
import { askMatch, releaseMatches } from './questions.ts';
import { settle } from './settle.ts';
import type { Linked, Unread } from './state.ts';

/** Whether a person can write in a field. */
export const editable = (draft: Draft, id: string): boolean => fieldOf(draft, id)?.readOnly === false;

/** A value that was typed over keeps the memory of what filled it; a field that was emptied does not. */
export function forgetOrigin(draft: Draft, id: string): void {
  if (isBlank(draft.values[id])) drop(draft, 'origins', id);
}

/** Reads what is being typed; it takes effect on other fields when it is left. */
export function type(draft: Draft, id: string, text: string): void {
  const field = fieldOf(draft, id)?.field;
  if (!field || !editable(draft, id)) return;
  const read = typeOf(field).parse(text, field.settings);
  if (read.ok && sameValue(read.value, draft.values[id]) && !draft.unread[id]) return;
  assign(draft, id, read.ok ? read.value : null);
  if (read.ok) forgetOrigin(draft, id);
  if (!read.ok) own(draft, 'unread')[id] = { text, message: read.message };
}

/** What was typed takes effect on other fields when it is left, not at every keystroke. */
export function settleTyped(draft: Draft, id: string): void {
  if (!(id in draft.settled) || !sameValue(draft.values[id], draft.settled[id])) settle(draft, id);
}

export const unmatched = (text: string): Unread => ({
  text,
  message: `No choice is called “${text}”. Choose one of the list.`,
});

/** Takes a pasted text into a field: read like typing where it can be, looked for where it names a choice. */
export function seek(draft: Draft, id: string, text: string): void {
  const field = fieldOf(draft, id);
  if (!field || !editable(draft, id)) return;
  own(draft, 'touched')[id] = true;
  if (!field.source || text === '') {
    type(draft, id, text);
    settleTyped(draft, id);
    return;
  }
  assign(draft, id, null);
  settleTyped(draft, id);
  askMatch(draft, id, { text, message: '' });
}

/** Text that was typed into a dropdown and left before its choices were there. What stood there stands until then. */
export function seekTyped(draft: Draft, id: string, text: string): void {
  if (!editable(draft, id)) return;
  own(draft, 'touched')[id] = true;
  askMatch(draft, id, { text, message: '', near: true });
}

/** The choice that a text means, or that there is none. */
export function takeMatch(draft: Draft, id: string, choice: Choice | null): void {
  const field = fieldOf(draft, id);
  const unread = draft.unread[id];
  if (!field || unread === undefined) return;
  if (!choice) {
    assign(draft, id, null);
    forgetOrigin(draft, id);
    own(draft, 'unread')[id] = unmatched(unread.text);
    settleTyped(draft, id);
    releaseMatches(draft, id);
    return;
  }
  assign(draft, id, choice.value, linkedBy(field, choice));
  settle(draft, id);
}

/** The record of a choice, where a choice is one; a word of an option list is none. */
export const linkedBy = (field: PreparedField, choice: Choice): Linked | undefined =>
  field.source?.column === undefined ? { title: choice.title, facts: choice.facts } : undefined;
