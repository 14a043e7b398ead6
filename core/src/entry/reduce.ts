import { isBlank } from '../fields/index.ts';
import { ENCLOSING, type PreparedForm } from '../forms/index.ts';
import type { Choice } from '../narrowing/index.ts';
import { fieldsDirty, linesDirty } from './counting.ts';
import { derive, deriveAll } from './derive.ts';
import { answers, ask, assign, type Draft, draftOf, drop, fieldOf, own, type Reducer, stepOf } from './draft.ts';
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
import { decideDispute, meet } from './meet.ts';
import { askMatch, askWhetherItFits, chooseOnly, releaseMatches } from './questions.ts';
import { readable } from './readable.ts';
import { press, refuse, sendIfSound } from './saving.ts';
import { effectiveValues } from './scope.ts';
import { applyFill, clearChild, settle, settleChild, useLinked } from './settle.ts';
import type { EntryEvent, EntryState, Opening, Request, Step } from './state.ts';
import {
  editable,
  forgetOrigin,
  linkedBy,
  seek,
  seekTyped,
  settleTyped,
  takeMatch,
  type,
  unmatched,
} from './typing.ts';

/** Begins an entry: a blank card with its defaults, or a record to change. */
export function openEntry(form: PreparedForm, opening: Opening, linesMade = 0): Step {
  const draft = draftOf({ ...blankState(form, opening), linesMade }, entryReducer);
  openLines(draft);
  deriveAll(draft);
  if (opening.record) askFacts(draft);
  else begin(draft);
  bringUpToDate(draft);
  return stepOf(draft);
}

/** Defaults that are links or keys fill and narrow like choices that a person made. */
function begin(draft: Draft): void {
  for (const id of draft.form.wiring.order) if (!isBlank(draft.original[id])) settle(draft, id);
  for (const field of draft.form.fields.values()) if (isBlank(draft.values[field.id])) chooseOnly(draft, field);
}

/** Derives all that follows from what moved, in the form and in its lines, each of which may move the other. */
export function bringUpToDate(draft: Draft): void {
  derive(draft);
  for (let left = 2 * draft.form.subforms.size + 2; left > 0 && refreshLines(draft); left--) derive(draft);
}

/** Asks for the columns of linked records that the form reads and does not know yet; nothing is filled from them. */
export function askFacts(draft: Draft): void {
  for (const field of draft.form.fields.values()) {
    const value = draft.values[field.id];
    const known = draft.linked[field.id]?.facts ?? {};
    if (field.field.type === 'link' && !isBlank(value) && field.factPaths.some((path) => !(path in known)))
      ask(draft, { kind: 'facts', field: field.id, id: Number(value) });
  }
}

/** Applies one event to the running form. Pure: the requests are for a thin adapter to carry out. */
export function reduceEntry(state: EntryState, event: EntryEvent): Step {
  const draft = draftOf(state, entryReducer);
  apply(draft, event);
  // What was taken up stood against these answers; from here on what fills it may change it.
  if (ANSWERS.has(event.type) && draft.phase !== 'submitted' && !isWaiting(draft))
    for (const id of Object.keys(draft.given)) drop(draft, 'given', id);
  bringUpToDate(draft);
  if (draft.phase === 'settling' && !busy(draft)) sendIfSound(draft);
  return stepOf(draft);
}

/** Opens and reduces lines in the way of the entries that they belong to. */
export const entryReducer: Reducer = { open: openEntry, reduce: reduceEntry };

const ANSWERS: ReadonlySet<EntryEvent['type']> = new Set(['found', 'checked', 'onlyChoice', 'matched', 'failed']);

/** True while an entry, its lines left aside, waits for an answer that can still change it. */
export const isWaiting = (state: Pick<EntryState, 'waiting'>): boolean =>
  Object.keys(state.waiting).some((key) => !key.startsWith('choices:') && !key.startsWith('save:'));

/** True while the form waits for an answer that can still change it. */
export const busy = (state: Pick<EntryState, 'waiting' | 'lines'>): boolean =>
  isWaiting(state) ||
  Object.values(state.lines).some((lines) => lines.some((line) => !line.archived && busy(line.state)));

/** True when something was entered that is not saved, in the fields or in lines. */
export const isDirty = (state: EntryState): boolean => fieldsDirty(state) || linesDirty(state);

function apply(draft: Draft, event: EntryEvent): void {
  switch (event.type) {
    case 'changed':
      if (!editable(draft, event.field)) return;
      assign(draft, event.field, event.value, event.linked);
      forgetOrigin(draft, event.field);
      own(draft, 'touched')[event.field] = true;
      settle(draft, event.field);
      if (event.unchosen) askWhetherItFits(draft, event.field);
      return;
    case 'typed':
      type(draft, event.field, event.text);
      return;
    case 'left':
      own(draft, 'touched')[event.field] = true;
      settleTyped(draft, event.field);
      return;
    case 'opened':
      ask(draft, {
        kind: 'choices',
        field: event.field,
        values: effectiveValues(readable(draft)),
        search: event.search,
      });
      return;
    case 'choicesArrived':
      if (!answers(draft, 'choices', event.field, event.number)) return;
      own(draft, 'choices')[event.field] = { choices: event.choices, more: event.more };
      return;
    case 'found':
      if (answers(draft, event.kind, event.field, event.number)) takeFound(draft, event);
      return;
    case 'checked':
      if (answers(draft, 'check', event.field, event.number) && !event.fits)
        clearChild(draft, event.field, firstParent(draft, event.field), []);
      return;
    case 'onlyChoice':
      if (answers(draft, 'only', event.field, event.number)) takeOnly(draft, event.field, event.choice);
      return;
    case 'answered': {
      const offer = draft.offers[event.field];
      drop(draft, 'offers', event.field);
      if (offer && event.take) takeFilled(draft, event.field, offer.value, offer.origin, offer.linked);
      return;
    }
    case 'picked':
      pick(draft, event.field, event.id);
      return;
    case 'refilled': {
      const origin = draft.origins[event.field];
      if (!origin || !editable(draft, event.field)) return;
      const { now, ...rest } = origin;
      const value = now === undefined ? origin.value : now;
      own(draft, 'touched')[event.field] = true;
      takeFilled(draft, event.field, value, { ...rest, value });
      return;
    }
    case 'reasoned':
      own(draft, 'reasons')[event.rule] = event.reason;
      return;
    case 'unmatched':
      if (!editable(draft, event.field)) return;
      assign(draft, event.field, null);
      forgetOrigin(draft, event.field);
      own(draft, 'unread')[event.field] = unmatched(event.text);
      own(draft, 'touched')[event.field] = true;
      settleTyped(draft, event.field);
      return;
    case 'failed':
      fail(draft, event);
      return;
    case 'savePressed':
      if (draft.phase === 'saving') return;
      press(draft);
      draft.phase = 'settling';
      return;
    case 'pressed':
      press(draft);
      return;
    case 'begun':
      begin(draft);
      return;
    case 'enclosed':
      enclose(draft, event);
      return;
    case 'line':
      reduceLine(draft, event.line, event.event);
      return;
    case 'lineBegun':
      beginLine(draft, event.subform, event.field, event.value);
      return;
    case 'lineMoved':
      moveLine(draft, event.line, event.to);
      return;
    case 'lineArchived':
      archiveLine(draft, event.line);
      return;
    case 'copiedDown':
      copyDown(draft, event.line, event.field);
      return;
    case 'pasted':
      pasteBlock(draft, event.line, event.field, event.rows);
      return;
    case 'resumed':
      resume(draft);
      return;
    case 'again':
      drop(draft, 'settled', event.field);
      settle(draft, event.field);
      return;
    case 'linesUndone':
      undoLines(draft);
      return;
    case 'met':
      meet(draft, event);
      askFacts(draft);
      return;
    case 'decided':
      decideDispute(draft, event.field, event.theirs);
      askFacts(draft);
      return;
    case 'sought':
      if (event.near && fieldOf(draft, event.field)?.source) seekTyped(draft, event.field, event.text);
      else seek(draft, event.field, event.text);
      return;
    case 'matched':
      if (answers(draft, 'match', event.field, event.number)) takeMatch(draft, event.field, event.choice);
      return;
    case 'refused':
      draft.phase = 'open';
      drop(draft, 'waiting', 'save:');
      refuse(draft, event.problems);
      return;
    case 'reset':
      reset(draft);
      return;
  }
}

/** What stands around a line is another: what it reads of that is settled anew. */
function enclose(draft: Draft, { enclosing, moved }: Extract<EntryEvent, { type: 'enclosed' }>): void {
  draft.opening = { ...draft.opening, enclosing };
  for (const field of moved) {
    const mover = ENCLOSING + field;
    draft.moved.add(mover);
    for (const edge of draft.form.wiring.from.get(mover) ?? [])
      if (edge.kind === 'narrows') settleChild(draft, edge.to, mover, [mover]);
  }
}

/** What was asked without an answer is asked again when its field is next left or saved. */
function fail(draft: Draft, event: Extract<EntryEvent, { type: 'failed' }>): void {
  if (!answers(draft, event.kind, event.field, event.number)) return;
  if (event.kind === 'save' || draft.phase === 'settling') draft.phase = 'open';
  if (event.kind === 'save' || event.kind === 'choices' || event.kind === 'only') return;
  if (event.kind === 'match') {
    own(draft, 'unread')[event.field] = {
      ...(draft.unread[event.field] ?? { text: '' }),
      message: 'The server did not answer. Choose one of the list.',
    };
    releaseMatches(draft, event.field);
    return;
  }
  drop(draft, 'settled', event.field);
  own(draft, 'missed')[event.field] = {
    message: 'The server did not answer. Leave this field again to retry.',
    stops: false,
  };
}

function takeOnly(draft: Draft, id: string, choice: Choice | null): void {
  const field = fieldOf(draft, id);
  if (!field || !choice || !isBlank(draft.values[id]) || draft.unread[id]) return;
  assign(draft, id, choice.value, linkedBy(field, choice));
  if (draft.phase !== 'submitted')
    own(draft, 'notices')[id] = `“${choice.title}” was chosen: it is the only choice left.`;
  settle(draft, id);
}

function pick(draft: Draft, id: string, record: number): void {
  const field = fieldOf(draft, id);
  const found = draft.several[id]?.find((one) => one.id === record);
  if (!field?.fill || !found) return;
  own(draft, 'picked')[id] = record;
  drop(draft, 'missed', id);
  applyFill(draft, id, field.fill, found, [id]);
}

/** Asks anew everything that is waited for, here and in the lines. */
function resume(draft: Draft): void {
  for (const key of Object.keys(draft.waiting)) {
    const [kind, id = ''] = key.split(':');
    drop(draft, 'waiting', key);
    const field = fieldOf(draft, id);
    const unread = draft.unread[id];
    if (kind === 'lookup' || kind === 'keyLookup') settle(draft, id);
    else if (kind === 'check') settleChild(draft, id, firstParent(draft, id), []);
    else if (kind === 'only' && field) chooseOnly(draft, field);
    else if (kind === 'match' && unread) askMatch(draft, id, unread);
    else if (kind === 'facts') askFacts(draft);
  }
  for (const subform of draft.form.subforms.keys()) resumeLines(draft, subform);
}

const firstParent = (draft: Draft, id: string): string =>
  draft.form.wiring.edges.find((edge) => edge.kind === 'narrows' && edge.to === id)?.from ?? id;

function takeFound(draft: Draft, event: Extract<EntryEvent, { type: 'found' }>): void {
  const field = fieldOf(draft, event.field);
  if (!field) return;
  const [found] = event.found;
  if (event.kind === 'facts') {
    if (found) own(draft, 'linked')[field.id] = { title: found.title, facts: found.facts };
    draft.moved.add(field.id);
    return;
  }
  if (event.kind === 'lookup') {
    if (!found) {
      own(draft, 'missed')[field.id] = { message: 'This record is not there any more. Choose another.', stops: true };
      return;
    }
    own(draft, 'linked')[field.id] = { title: found.title, facts: found.facts };
    draft.moved.add(field.id);
    useLinked(draft, field, found, [field.id]);
    return;
  }
  if (field.fill) takeKeyed(draft, field, field.fill, event.found);
}

function reset(draft: Draft): void {
  const fresh = openEntry(draft.form, draft.opening, draft.linesMade);
  Object.assign(draft, { ...fresh.state, requestsMade: draft.requestsMade, waiting: {} });
  draft.owned.clear();
  draft.moved.clear();
  // What the fresh entry asks for is asked under numbers of its own.
  for (const { number, ...request } of fresh.requests)
    if (request.line) draft.requests.push({ ...request, number } as Request);
    else ask(draft, request as Parameters<typeof ask>[1]);
}
