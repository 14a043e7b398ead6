import { isBlank } from '../fields/index.ts';
import type { PreparedForm } from '../forms/index.ts';
import {
  firstParent,
  handleFailure,
  resendRequests,
  takeFound,
  takeOnly,
  takePicked,
  updateEnclosing,
} from './answers.ts';
import { derive, deriveAll } from './derive.ts';
import { blankState, OPEN } from './initial.ts';
import {
  archiveLine,
  beginLine,
  copyDown,
  moveLine,
  openLines,
  pasteBlock,
  reduceLine,
  refreshLines,
  undoLines,
} from './lines.ts';
import { takeFilled } from './lookups.ts';
import { decideConflict, mergeRemote } from './mergeRemote.ts';
import { fieldsDirty, linesDirty } from './presence.ts';
import { clearChild, propagate } from './propagate.ts';
import { askFacts, askForOnlyChoice, askIfChoiceFits } from './questions.ts';
import { readable } from './readable.ts';
import { placeRefusals, saveIfValid, touchAll } from './saving.ts';
import { effectiveValues } from './scope.ts';
import type { EntryEvent, EntryState, Opening, Request, Step } from './state.ts';
import {
  editable,
  forgetOrigin,
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
  fieldOf,
  fieldState,
  mutable,
  openRequests,
  type Reducer,
  stepOf,
  updateField,
  type WorkingState,
  workingStateOf,
} from './workingState.ts';

/** Opens an entry: a blank one with its defaults, or a record to change. */
export function openEntry(form: PreparedForm, opening: Opening, linesMade = 0): Step {
  const working = workingStateOf({ ...blankState(form, opening), linesMade }, entryReducer);
  openLines(working);
  deriveAll(working);
  if (opening.record) askFacts(working);
  else applyDefaults(working);
  bringUpToDate(working);
  return stepOf(working);
}

/** Propagates defaults: a link or a key fills and narrows as if a person had chosen it. */
function applyDefaults(working: WorkingState): void {
  for (const id of working.form.wiring.order) if (!isBlank(working.original[id])) propagate(working, id);
  for (const field of working.form.fields.values())
    if (isBlank(working.values[field.id])) askForOnlyChoice(working, field);
}

/** Derives what depends on changed fields, in the form and in its lines, until neither changes the other any more. */
export function bringUpToDate(working: WorkingState): void {
  derive(working);
  for (let left = 2 * working.form.subforms.size + 2; left > 0 && refreshLines(working); left--) derive(working);
}

/** Applies an event to a running form. Pure: an adapter carries the requests out and answers with further events. */
export function reduceEntry(state: EntryState, event: EntryEvent): Step {
  const working = workingStateOf(state, entryReducer);
  apply(working, event);
  // Restored values were kept against these answers; from now on fills may replace them.
  if (ANSWERS.has(event.type) && working.mode === 'filled' && !isWaiting(working))
    for (const id in working.fields) updateField(working, id, { submitted: undefined });
  bringUpToDate(working);
  if (working.phase.kind === 'settling' && !isBusy(working)) saveIfValid(working);
  return stepOf(working);
}

/** Opens and reduces lines in the way of the entries that they belong to. */
export const entryReducer: Reducer = { open: openEntry, reduce: reduceEntry };

const ANSWERS: ReadonlySet<EntryEvent['type']> = new Set(['found', 'checked', 'onlyChoice', 'matched', 'failed']);

/** True while an entry waits for an answer that can change it; its lines are not looked at. */
export function isWaiting(state: Pick<EntryState, 'fields'>): boolean {
  for (const id in state.fields) if (openRequests(state, id).some((kind) => kind !== 'choices')) return true;
  return false;
}

/** True while an entry or one of its lines waits for an answer that can change it. */
export const isBusy = (state: Pick<EntryState, 'fields' | 'lines'>): boolean =>
  isWaiting(state) ||
  Object.values(state.lines).some((lines) => lines.some((line) => !line.archived && isBusy(line.state)));

/** True when the entry has unsaved changes, in its fields or in its lines. */
export const isDirty = (state: EntryState): boolean => fieldsDirty(state) || linesDirty(state);

/** Applies an event of one type to the working state. */
type Handler<T extends EntryEvent['type']> = (working: WorkingState, event: Extract<EntryEvent, { type: T }>) => void;

/** What each event does: a new event is a line in `EntryEvent` and one here. */
const HANDLERS: { readonly [T in EntryEvent['type']]: Handler<T> } = {
  changed: (working, event) => {
    if (!editable(working, event.field)) return;
    assign(working, event.field, event.value, event.linked);
    forgetOrigin(working, event.field);
    updateField(working, event.field, { touched: true });
    propagate(working, event.field);
    if (event.unchosen) askIfChoiceFits(working, event.field);
  },
  typed: (working, event) => setText(working, event.field, event.text),
  left: (working, event) => {
    updateField(working, event.field, { touched: true });
    propagateTyped(working, event.field);
  },
  opened: (working, event) => {
    ask(working, {
      kind: 'choices',
      field: event.field,
      values: effectiveValues(readable(working)),
      search: event.search,
    });
  },
  choicesArrived: (working, event) => {
    if (!acceptAnswer(working, 'choices', event.field, event.number)) return;
    updateField(working, event.field, { choices: { choices: event.choices, more: event.more } });
  },
  found: (working, event) => {
    if (acceptAnswer(working, event.kind, event.field, event.number)) takeFound(working, event);
  },
  checked: (working, event) => {
    if (acceptAnswer(working, 'check', event.field, event.number) && !event.fits)
      clearChild(working, event.field, firstParent(working, event.field), []);
  },
  onlyChoice: (working, event) => {
    if (acceptAnswer(working, 'only', event.field, event.number)) takeOnly(working, event.field, event.choice);
  },
  offerAnswered: (working, event) => {
    const offer = fieldState(working, event.field).offer;
    updateField(working, event.field, { offer: undefined });
    if (offer && event.take) takeFilled(working, event.field, offer.value, offer.origin, offer.linked);
  },
  matchPicked: (working, event) => takePicked(working, event.field, event.id),
  refilled: (working, event) => {
    const origin = fieldState(working, event.field).origin;
    if (!origin || !editable(working, event.field)) return;
    const { now, ...rest } = origin;
    const value = now === undefined ? origin.value : now;
    updateField(working, event.field, { touched: true });
    takeFilled(working, event.field, value, { ...rest, value });
  },
  reasonGiven: (working, event) => {
    mutable(working, 'reasons')[event.rule] = event.reason;
  },
  unmatched: (working, event) => {
    if (!editable(working, event.field)) return;
    assign(working, event.field, null);
    forgetOrigin(working, event.field);
    updateField(working, event.field, { unparsed: unmatched(event.text) });
    updateField(working, event.field, { touched: true });
    propagateTyped(working, event.field);
  },
  failed: handleFailure,
  saveFailed: (working, { number }) => {
    if (working.phase.kind === 'saving' && working.phase.request === number) working.phase = OPEN;
  },
  savePressed: (working) => {
    if (working.phase.kind === 'saving') return;
    touchAll(working);
    working.phase = { kind: 'settling' };
  },
  stepLeft: (working, event) => touchAll(working, event.items),
  allTouched: (working) => touchAll(working),
  lineStarted: applyDefaults,
  enclosingChanged: updateEnclosing,
  line: (working, event) => reduceLine(working, event.line, event.event),
  lineBegun: (working, event) => beginLine(working, event.subform, event.field, event.value),
  lineMoved: (working, event) => moveLine(working, event.line, event.to),
  lineArchived: (working, event) => archiveLine(working, event.line),
  copiedDown: (working, event) => copyDown(working, event.line, event.field),
  pasted: (working, event) => pasteBlock(working, event.line, event.field, event.rows),
  requestsResent: resendRequests,
  lookUpAgain: (working, event) => {
    updateField(working, event.field, { propagated: undefined });
    propagate(working, event.field);
  },
  linesUndone: undoLines,
  remoteSaved: (working, event) => {
    mergeRemote(working, event);
    askFacts(working);
  },
  conflictDecided: (working, event) => {
    decideConflict(working, event.field, event.theirs);
    askFacts(working);
  },
  textMatched: (working, event) => {
    if (event.near && fieldOf(working, event.field)?.source) matchTyped(working, event.field, event.text);
    else matchPasted(working, event.field, event.text);
  },
  matched: (working, event) => {
    if (acceptAnswer(working, 'match', event.field, event.number)) takeMatch(working, event.field, event.choice);
  },
  refused: (working, event) => {
    working.phase = OPEN;
    placeRefusals(working, event.problems);
  },
  reset,
};

function apply(working: WorkingState, event: EntryEvent): void {
  (HANDLERS[event.type] as Handler<EntryEvent['type']>)(working, event);
}

function reset(working: WorkingState): void {
  const fresh = openEntry(working.form, working.opening, working.linesMade);
  Object.assign(working, { ...fresh.state, requestsMade: working.requestsMade });
  working.owned.clear();
  working.changed.clear();
  // The requests of the fresh entry get new numbers.
  for (const { number, ...request } of fresh.requests)
    if (request.line) working.requests.push({ ...request, number } as Request);
    else ask(working, request as Parameters<typeof ask>[1]);
}
