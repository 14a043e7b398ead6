import { isBlank } from '../fields/index.ts';
import { ENCLOSING, type PreparedForm } from '../forms/index.ts';
import type { Choice } from '../narrowing/index.ts';
import { derive, deriveAll } from './derive.ts';
import { blankState } from './initial.ts';
import {
  archiveLine,
  beginLine,
  copyDown,
  moveLine,
  openLines,
  pasteBlock,
  reduceLine,
  refreshLines,
  resumeLines,
  undoLines,
} from './lines.ts';
import { takeFilled, takeKeyed } from './lookups.ts';
import { decideConflict, mergeRemote } from './mergeRemote';
import { fieldsDirty, linesDirty } from './presence';
import { applyFill, clearChild, propagate, propagateToChild, useLinked } from './propagate';
import { askForMatch, askForOnlyChoice, askIfChoiceFits, sendDeferredMatches } from './questions.ts';
import { readable } from './readable.ts';
import { placeRefusals, saveIfValid, touchAll } from './saving.ts';
import { effectiveValues } from './scope.ts';
import type { EntryEvent, EntryState, Opening, Request, Step } from './state.ts';
import {
  editable,
  forgetOrigin,
  linkedRecordOf,
  matchPasted,
  matchTyped,
  propagateTyped,
  setText,
  takeMatch,
  unmatched,
} from './typing.ts';
import {
  acceptAnswer,
  ask,
  assign,
  drop,
  fieldOf,
  mutable,
  type Reducer,
  stepOf,
  type WorkingState,
  workingStateOf,
} from './workingState';

/** Begins an entry: a blank card with its defaults, or a record to change. */
export function openEntry(form: PreparedForm, opening: Opening, linesMade = 0): Step {
  const working = workingStateOf({ ...blankState(form, opening), linesMade }, entryReducer);
  openLines(working);
  deriveAll(working);
  if (opening.record) askFacts(working);
  else applyDefaults(working);
  bringUpToDate(working);
  return stepOf(working);
}

/** Defaults that are links or keys fill and narrow like choices that a person made. */
function applyDefaults(working: WorkingState): void {
  for (const id of working.form.wiring.order) if (!isBlank(working.original[id])) propagate(working, id);
  for (const field of working.form.fields.values())
    if (isBlank(working.values[field.id])) askForOnlyChoice(working, field);
}

/** Derives all that follows from what moved, in the form and in its lines, each of which may move the other. */
export function bringUpToDate(working: WorkingState): void {
  derive(working);
  for (let left = 2 * working.form.subforms.size + 2; left > 0 && refreshLines(working); left--) derive(working);
}

/** Asks for the columns of linked records that the form reads and does not know yet; nothing is filled from them. */
export function askFacts(working: WorkingState): void {
  for (const field of working.form.fields.values()) {
    const value = working.values[field.id];
    const known = working.linked[field.id]?.facts ?? {};
    if (field.field.type === 'link' && !isBlank(value) && field.factPaths.some((path) => !(path in known)))
      ask(working, { kind: 'facts', field: field.id, id: Number(value) });
  }
}

/** Applies one event to the running form. Pure: the requests are for a thin adapter to carry out. */
export function reduceEntry(state: EntryState, event: EntryEvent): Step {
  const working = workingStateOf(state, entryReducer);
  apply(working, event);
  // What was taken up stood against these answers; from here on what fills it may change it.
  if (ANSWERS.has(event.type) && working.phase !== 'submitted' && !isWaiting(working))
    for (const id of Object.keys(working.submitted)) drop(working, 'submitted', id);
  bringUpToDate(working);
  if (working.phase === 'settling' && !isBusy(working)) saveIfValid(working);
  return stepOf(working);
}

/** Opens and reduces lines in the way of the entries that they belong to. */
export const entryReducer: Reducer = { open: openEntry, reduce: reduceEntry };

const ANSWERS: ReadonlySet<EntryEvent['type']> = new Set(['found', 'checked', 'onlyChoice', 'matched', 'failed']);

/** True while an entry, its lines left aside, waits for an answer that can still change it. */
export const isWaiting = (state: Pick<EntryState, 'waiting'>): boolean =>
  Object.keys(state.waiting).some((key) => !key.startsWith('choices:') && !key.startsWith('save:'));

/** True while the form waits for an answer that can still change it. */
export const isBusy = (state: Pick<EntryState, 'waiting' | 'lines'>): boolean =>
  isWaiting(state) ||
  Object.values(state.lines).some((lines) => lines.some((line) => !line.archived && isBusy(line.state)));

/** True when something was entered that is not saved, in the fields or in lines. */
export const isDirty = (state: EntryState): boolean => fieldsDirty(state) || linesDirty(state);

function apply(working: WorkingState, event: EntryEvent): void {
  switch (event.type) {
    case 'changed':
      if (!editable(working, event.field)) return;
      assign(working, event.field, event.value, event.linked);
      forgetOrigin(working, event.field);
      mutable(working, 'touched')[event.field] = true;
      propagate(working, event.field);
      if (event.unchosen) askIfChoiceFits(working, event.field);
      return;
    case 'typed':
      setText(working, event.field, event.text);
      return;
    case 'left':
      mutable(working, 'touched')[event.field] = true;
      propagateTyped(working, event.field);
      return;
    case 'opened':
      ask(working, {
        kind: 'choices',
        field: event.field,
        values: effectiveValues(readable(working)),
        search: event.search,
      });
      return;
    case 'choicesArrived':
      if (!acceptAnswer(working, 'choices', event.field, event.number)) return;
      mutable(working, 'choices')[event.field] = { choices: event.choices, more: event.more };
      return;
    case 'found':
      if (acceptAnswer(working, event.kind, event.field, event.number)) takeFound(working, event);
      return;
    case 'checked':
      if (acceptAnswer(working, 'check', event.field, event.number) && !event.fits)
        clearChild(working, event.field, firstParent(working, event.field), []);
      return;
    case 'onlyChoice':
      if (acceptAnswer(working, 'only', event.field, event.number)) takeOnly(working, event.field, event.choice);
      return;
    case 'offerAnswered': {
      const offer = working.offers[event.field];
      drop(working, 'offers', event.field);
      if (offer && event.take) takeFilled(working, event.field, offer.value, offer.origin, offer.linked);
      return;
    }
    case 'matchPicked':
      takePicked(working, event.field, event.id);
      return;
    case 'refilled': {
      const origin = working.origins[event.field];
      if (!origin || !editable(working, event.field)) return;
      const { now, ...rest } = origin;
      const value = now === undefined ? origin.value : now;
      mutable(working, 'touched')[event.field] = true;
      takeFilled(working, event.field, value, { ...rest, value });
      return;
    }
    case 'reasonGiven':
      mutable(working, 'reasons')[event.rule] = event.reason;
      return;
    case 'unmatched':
      if (!editable(working, event.field)) return;
      assign(working, event.field, null);
      forgetOrigin(working, event.field);
      mutable(working, 'unparsed')[event.field] = unmatched(event.text);
      mutable(working, 'touched')[event.field] = true;
      propagateTyped(working, event.field);
      return;
    case 'failed':
      handleFailure(working, event);
      return;
    case 'savePressed':
      if (working.phase === 'saving') return;
      touchAll(working);
      working.phase = 'settling';
      return;
    case 'allTouched':
      touchAll(working);
      return;
    case 'lineStarted':
      applyDefaults(working);
      return;
    case 'enclosingChanged':
      updateEnclosing(working, event);
      return;
    case 'line':
      reduceLine(working, event.line, event.event);
      return;
    case 'lineBegun':
      beginLine(working, event.subform, event.field, event.value);
      return;
    case 'lineMoved':
      moveLine(working, event.line, event.to);
      return;
    case 'lineArchived':
      archiveLine(working, event.line);
      return;
    case 'copiedDown':
      copyDown(working, event.line, event.field);
      return;
    case 'pasted':
      pasteBlock(working, event.line, event.field, event.rows);
      return;
    case 'requestsResent':
      resendRequests(working);
      return;
    case 'lookUpAgain':
      drop(working, 'propagated', event.field);
      propagate(working, event.field);
      return;
    case 'linesUndone':
      undoLines(working);
      return;
    case 'remoteSaved':
      mergeRemote(working, event);
      askFacts(working);
      return;
    case 'conflictDecided':
      decideConflict(working, event.field, event.theirs);
      askFacts(working);
      return;
    case 'textMatched':
      if (event.near && fieldOf(working, event.field)?.source) matchTyped(working, event.field, event.text);
      else matchPasted(working, event.field, event.text);
      return;
    case 'matched':
      if (acceptAnswer(working, 'match', event.field, event.number)) takeMatch(working, event.field, event.choice);
      return;
    case 'refused':
      working.phase = 'open';
      drop(working, 'waiting', 'save:');
      placeRefusals(working, event.problems);
      return;
    case 'reset':
      reset(working);
      return;
  }
}

/** What stands around a line is another: what it reads of that is settled anew. */
function updateEnclosing(
  working: WorkingState,
  { enclosing, moved }: Extract<EntryEvent, { type: 'enclosingChanged' }>,
): void {
  working.opening = { ...working.opening, enclosing };
  for (const field of moved) {
    const mover = ENCLOSING + field;
    working.moved.add(mover);
    for (const edge of working.form.wiring.from.get(mover) ?? [])
      if (edge.kind === 'narrows') propagateToChild(working, edge.to, mover, [mover]);
  }
}

/** What was asked without an answer is asked again when its field is next left or saved. */
function handleFailure(working: WorkingState, event: Extract<EntryEvent, { type: 'failed' }>): void {
  if (!acceptAnswer(working, event.kind, event.field, event.number)) return;
  if (event.kind === 'save' || working.phase === 'settling') working.phase = 'open';
  if (event.kind === 'save' || event.kind === 'choices' || event.kind === 'only') return;
  if (event.kind === 'match') {
    mutable(working, 'unparsed')[event.field] = {
      ...(working.unparsed[event.field] ?? { text: '' }),
      message: 'The server did not answer. Choose one of the list.',
    };
    sendDeferredMatches(working, event.field);
    return;
  }
  drop(working, 'propagated', event.field);
  mutable(working, 'lookupFailures')[event.field] = {
    message: 'The server did not answer. Leave this field again to retry.',
    stops: false,
  };
}

function takeOnly(working: WorkingState, id: string, choice: Choice | null): void {
  const field = fieldOf(working, id);
  if (!field || !choice || !isBlank(working.values[id]) || working.unparsed[id]) return;
  assign(working, id, choice.value, linkedRecordOf(field, choice));
  if (working.phase !== 'submitted')
    mutable(working, 'notices')[id] = `“${choice.title}” was chosen: it is the only choice left.`;
  propagate(working, id);
}

function takePicked(working: WorkingState, id: string, record: number): void {
  const field = fieldOf(working, id);
  const found = working.ambiguousMatches[id]?.find((one) => one.id === record);
  if (!field?.fill || !found) return;
  mutable(working, 'picked')[id] = record;
  drop(working, 'lookupFailures', id);
  applyFill(working, id, field.fill, found, [id]);
}

/** Asks anew everything that is waited for, here and in the lines. */
function resendRequests(working: WorkingState): void {
  for (const key of Object.keys(working.waiting)) {
    const [kind, id = ''] = key.split(':');
    drop(working, 'waiting', key);
    const field = fieldOf(working, id);
    const unread = working.unparsed[id];
    if (kind === 'lookup' || kind === 'keyLookup') propagate(working, id);
    else if (kind === 'check') propagateToChild(working, id, firstParent(working, id), []);
    else if (kind === 'only' && field) askForOnlyChoice(working, field);
    else if (kind === 'match' && unread) askForMatch(working, id, unread);
    else if (kind === 'facts') askFacts(working);
  }
  for (const subform of working.form.subforms.keys()) resumeLines(working, subform);
}

const firstParent = (working: WorkingState, id: string): string =>
  working.form.wiring.edges.find((edge) => edge.kind === 'narrows' && edge.to === id)?.from ?? id;

function takeFound(working: WorkingState, event: Extract<EntryEvent, { type: 'found' }>): void {
  const field = fieldOf(working, event.field);
  if (!field) return;
  const [found] = event.found;
  if (event.kind === 'facts') {
    if (found) mutable(working, 'linked')[field.id] = { title: found.title, facts: found.facts };
    working.moved.add(field.id);
    return;
  }
  if (event.kind === 'lookup') {
    if (!found) {
      mutable(working, 'lookupFailures')[field.id] = {
        message: 'This record is not there any more. Choose another.',
        stops: true,
      };
      return;
    }
    mutable(working, 'linked')[field.id] = { title: found.title, facts: found.facts };
    working.moved.add(field.id);
    useLinked(working, field, found, [field.id]);
    return;
  }
  if (field.fill) takeKeyed(working, field, field.fill, event.found);
}

function reset(working: WorkingState): void {
  const fresh = openEntry(working.form, working.opening, working.linesMade);
  Object.assign(working, { ...fresh.state, requestsMade: working.requestsMade, waiting: {} });
  working.owned.clear();
  working.moved.clear();
  // What the fresh entry asks for is asked under numbers of its own.
  for (const { number, ...request } of fresh.requests)
    if (request.line) working.requests.push({ ...request, number } as Request);
    else ask(working, request as Parameters<typeof ask>[1]);
}
