import { isBlank, sameValue, type Values } from '../fields/index.ts';
import type { PreparedForm } from '../forms/index.ts';
import { typeOf } from '../tables/index.ts';
import { answers, ask, assign, type Draft, draftOf, fieldOf, stepOf } from './draft.ts';
import { initialValues } from './initial.ts';
import { problemsOf } from './problems.ts';
import { applyFill, clearChild, clearFilled, settle, useLinked } from './settle.ts';
import type { EntryEvent, EntryState, Opening, Step } from './state.ts';

/** Begins an entry: a blank card with its defaults, or a record to change. */
export function openEntry(form: PreparedForm, opening: Opening): Step {
  const original = initialValues(form, opening);
  const state: EntryState = {
    form,
    opening,
    original,
    values: original,
    settled: original,
    unread: {},
    linked: opening.record?.linked ?? {},
    origins: {},
    notices: {},
    missed: {},
    refusals: [],
    touched: {},
    given: {},
    choices: {},
    waiting: {},
    requestsMade: 0,
    phase: 'open',
  };
  const draft = draftOf(state);
  // Defaults that are links or keys fill and narrow like choices that a person made.
  if (!opening.record) for (const id of form.wiring.order) if (!isBlank(original[id])) settle(draft, id);
  return stepOf(draft);
}

/** Applies one event to the running form. Pure: the requests are for a thin adapter to carry out. */
export function reduceEntry(state: EntryState, event: EntryEvent): Step {
  const draft = draftOf(state);
  apply(draft, event);
  if (draft.phase === 'settling' && !busy(draft)) sendIfSound(draft);
  return stepOf(draft);
}

/** True while the form waits for an answer that can still change it. */
export const busy = (state: Pick<EntryState, 'waiting'>): boolean =>
  Object.keys(state.waiting).some((key) => !key.startsWith('choices:') && !key.startsWith('save:'));

/** True when something was entered that is not saved. */
export const isDirty = (state: EntryState): boolean =>
  Object.keys(state.unread).length > 0 ||
  [...state.form.fields.keys()].some((id) => !sameValue(state.values[id], state.original[id]));

/** The values that a save sends: every field that a person may fill. The server fills the rest by the same rules. */
export function submission(state: EntryState | Draft): Values {
  const open = [...state.form.fields.values()].filter((field) => !field.readOnly);
  return Object.fromEntries(open.map((field) => [field.id, state.values[field.id] ?? null]));
}

function apply(draft: Draft, event: EntryEvent): void {
  switch (event.type) {
    case 'changed':
      if (!editable(draft, event.field)) return;
      assign(draft, event.field, event.value, event.linked);
      draft.touched[event.field] = true;
      settle(draft, event.field);
      return;
    case 'typed':
      type(draft, event.field, event.text);
      return;
    case 'left':
      draft.touched[event.field] = true;
      settleTyped(draft, event.field);
      return;
    case 'opened':
      ask(draft, { kind: 'choices', field: event.field, values: { ...draft.values }, search: event.search });
      return;
    case 'choicesArrived':
      if (!answers(draft, 'choices', event.field, event.number)) return;
      draft.choices[event.field] = { choices: event.choices, more: event.more };
      return;
    case 'found':
      if (answers(draft, event.kind, event.field, event.number)) takeFound(draft, event);
      return;
    case 'checked':
      if (answers(draft, 'check', event.field, event.number) && !event.fits)
        clearChild(draft, event.field, firstParent(draft, event.field), []);
      return;
    case 'unmatched':
      if (!editable(draft, event.field)) return;
      assign(draft, event.field, null);
      draft.unread[event.field] = {
        text: event.text,
        message: `No choice is called “${event.text}”. Choose one of the list.`,
      };
      draft.touched[event.field] = true;
      settleTyped(draft, event.field);
      return;
    case 'failed':
      fail(draft, event);
      return;
    case 'savePressed':
      if (draft.phase === 'saving') return;
      for (const id of draft.form.fields.keys()) {
        draft.touched[id] = true;
        settleTyped(draft, id);
      }
      draft.refusals = [];
      draft.phase = 'settling';
      return;
    case 'refused':
      draft.phase = 'open';
      delete draft.waiting['save:'];
      draft.refusals = event.problems;
      return;
    case 'reset':
      reset(draft);
      return;
  }
}

/** What was asked without an answer is asked again when its field is next left or saved. */
function fail(draft: Draft, event: Extract<EntryEvent, { type: 'failed' }>): void {
  if (!answers(draft, event.kind, event.field, event.number)) return;
  if (event.kind === 'save' || draft.phase === 'settling') draft.phase = 'open';
  if (event.kind === 'save' || event.kind === 'choices') return;
  delete draft.settled[event.field];
  draft.missed[event.field] = { message: 'The server did not answer. Leave this field again to retry.', stops: false };
}

const editable = (draft: Draft, id: string): boolean => fieldOf(draft, id)?.readOnly === false;

function type(draft: Draft, id: string, text: string): void {
  const field = fieldOf(draft, id)?.field;
  if (!field || !editable(draft, id)) return;
  const read = typeOf(field).parse(text, field.settings);
  if (read.ok && sameValue(read.value, draft.values[id]) && !draft.unread[id]) return;
  assign(draft, id, read.ok ? read.value : null);
  if (!read.ok) draft.unread[id] = { text, message: read.message };
}

/** What was typed takes effect on other fields when it is left, not at every keystroke. */
function settleTyped(draft: Draft, id: string): void {
  if (!(id in draft.settled) || !sameValue(draft.values[id], draft.settled[id])) settle(draft, id);
}

const firstParent = (draft: Draft, id: string): string =>
  draft.form.wiring.edges.find((edge) => edge.kind === 'narrows' && edge.to === id)?.from ?? id;

function takeFound(draft: Draft, event: Extract<EntryEvent, { type: 'found' }>): void {
  const field = fieldOf(draft, event.field);
  if (!field) return;
  const [found] = event.found;
  if (event.kind === 'lookup') {
    if (!found) {
      draft.missed[field.id] = { message: 'This record is not there any more. Choose another.', stops: true };
      return;
    }
    draft.linked[field.id] = { title: found.title, facts: found.facts };
    useLinked(draft, field, found, [field.id]);
    return;
  }
  if (!field.fill) return;
  if (found && event.found.length === 1) {
    applyFill(draft, field.id, field.fill, found, [field.id]);
    return;
  }
  clearFilled(draft, field.id, field.fill, [field.id]);
  const source = draft.form.tables.get(field.fill.table)?.label ?? '';
  if (event.found.length > 1)
    draft.missed[field.id] = {
      message: `Several records of ${source} have this ${field.label}, so nothing was filled.`,
      stops: false,
    };
  else if (field.fill.whenNone !== 'nothing')
    draft.missed[field.id] = {
      message: `No record of ${source} has this ${field.label}.`,
      stops: field.fill.whenNone === 'refuse',
    };
}

function sendIfSound(draft: Draft): void {
  const sound = problemsOf({ ...draft, phase: 'open' }).length === 0;
  draft.phase = sound ? 'saving' : 'open';
  if (sound) ask(draft, { kind: 'save', values: submission(draft) });
}

/**
 * The same entry under a changed definition of its form: values of fields that are still there stay. For the Studio,
 * where the card being edited is live.
 */
export function carryOver(form: PreparedForm, old: EntryState): EntryState {
  const { state } = openEntry(form, old.opening);
  const kept = [...form.fields.keys()].filter((id) => old.form.fields.has(id) && !isBlank(old.values[id]));
  const draft = draftOf(state);
  for (const id of kept) {
    draft.values[id] = old.values[id] ?? null;
    draft.settled[id] = old.values[id] ?? null;
    if (old.linked[id]) draft.linked[id] = old.linked[id];
    if (old.origins[id]) draft.origins[id] = old.origins[id];
  }
  return { ...stepOf(draft).state, requestsMade: old.requestsMade };
}

function reset(draft: Draft): void {
  const fresh = openEntry(draft.form, draft.opening).state;
  Object.assign(draft, { ...draftOf(fresh), requestsMade: draft.requestsMade, requests: draft.requests });
  draft.waiting = {};
}
