import { isBlank, type Problem, sameValue } from '../fields/index.ts';
import { ENCLOSING, type PreparedForm } from '../forms/index.ts';
import type { Choice } from '../narrowing/index.ts';
import { typeOf } from '../tables/index.ts';
import { counts, fieldsDirty, linesDirty } from './counting.ts';
import { derive, deriveAll } from './derive.ts';
import { answers, ask, assign, type Draft, draftOf, drop, fieldOf, own, readable, stepOf } from './draft.ts';
import { applyFill, takeFilled, takeKeyed } from './filling.ts';
import { blankState } from './initial.ts';
import { splitPath } from './linePath.ts';
import {
  archiveLine,
  copyDown,
  keepBlank,
  moveLine,
  openLines,
  pasteBlock,
  pressLines,
  reduceLine,
  refreshLines,
  undoLines,
} from './lines.ts';
import { decideDispute, meet } from './meet.ts';
import { problemsOf, reasonsGiven } from './problems.ts';
import { effectiveValues } from './scope.ts';
import { askMatch, chooseOnly, clearChild, settle, settleChild, useLinked } from './settle.ts';
import type { EntryEvent, EntryState, Line, Lines, Opening, Request, SentLine, Step, Submission } from './state.ts';

/** Begins an entry: a blank card with its defaults, or a record to change. */
export function openEntry(form: PreparedForm, opening: Opening, linesMade = 0): Step {
  const draft = draftOf({ ...blankState(form, opening), linesMade });
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
function askFacts(draft: Draft): void {
  for (const field of draft.form.fields.values()) {
    const value = draft.values[field.id];
    const known = draft.linked[field.id]?.facts ?? {};
    if (field.field.type === 'link' && !isBlank(value) && field.factPaths.some((path) => !(path in known)))
      ask(draft, { kind: 'facts', field: field.id, id: Number(value) });
  }
}

/** Applies one event to the running form. Pure: the requests are for a thin adapter to carry out. */
export function reduceEntry(state: EntryState, event: EntryEvent): Step {
  const draft = draftOf(state);
  apply(draft, event);
  bringUpToDate(draft);
  if (draft.phase === 'settling' && !busy(draft)) sendIfSound(draft);
  return stepOf(draft);
}

/** True while the form waits for an answer that can still change it. */
export const busy = (state: Pick<EntryState, 'waiting' | 'lines'>): boolean =>
  Object.keys(state.waiting).some((key) => !key.startsWith('choices:') && !key.startsWith('save:')) ||
  Object.values(state.lines).some((lines) => lines.some((line) => !line.archived && busy(line.state)));

/** True when something was entered that is not saved, in the fields or in lines. */
export const isDirty = (state: EntryState): boolean => fieldsDirty(state) || linesDirty(state);

/** What a save sends: every field that a person may fill. The server fills the rest by the same rules. */
export function submission(state: EntryState | Draft): Submission {
  const open = [...state.form.fields.values()].filter((field) => !field.readOnly);
  const values = effectiveValues(readable(state));
  const shown = [...state.form.subforms.keys()].filter((id) => !state.hidden[id]);
  return {
    values: Object.fromEntries(open.map((field) => [field.id, values[field.id] ?? null])),
    reasons: Object.fromEntries(reasonsGiven(state).map(({ rule, reason }) => [rule, reason])),
    picked: { ...state.picked },
    lines: Object.fromEntries(shown.map((id) => [id, (state.lines[id] ?? []).filter(counts).map(sentLine)])),
  };
}

function sentLine({ key, archived, state }: Line): SentLine {
  const { record } = state.opening;
  const saved = record ? { id: record.id, version: record.version } : {};
  if (archived) return { key, ...saved, archived };
  if (record && !fieldsDirty(state)) return { key, ...saved };
  const { values, reasons, picked } = submission(state);
  return { key, ...saved, values, reasons, picked };
}

function apply(draft: Draft, event: EntryEvent): void {
  switch (event.type) {
    case 'changed':
      if (!editable(draft, event.field)) return;
      assign(draft, event.field, event.value, event.linked);
      forgetOrigin(draft, event.field);
      own(draft, 'touched')[event.field] = true;
      settle(draft, event.field);
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
      seek(draft, event.field, event.text);
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

const unmatched = (text: string) => ({
  text,
  message: `No choice is called “${text}”. Choose one of the list.`,
});

/** A person has been everywhere: all that was typed takes effect, and all that is wrong shows. */
function press(draft: Draft): void {
  for (const id of draft.form.fields.keys()) {
    own(draft, 'touched')[id] = true;
    settleTyped(draft, id);
  }
  draft.refusals = [];
  pressLines(draft);
}

/** What the server said, each at its place: in the form, or in one of its lines. */
function refuse(draft: Draft, problems: readonly Problem[]): void {
  draft.refusals = problems.filter((problem) => !splitPath(problem.path));
  for (const subform of draft.form.subforms.keys())
    for (const { key } of draft.lines[subform] ?? []) {
      const own = problems.flatMap((problem) => {
        const at = splitPath(problem.path);
        return at?.line.subform === subform && at.line.key === key ? [{ ...problem, path: at.path }] : [];
      });
      if (own.length > 0) reduceLine(draft, { subform, key }, { type: 'refused', problems: own });
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

/** Takes a pasted text into a field: read like typing where it can be, looked for where it names a choice. */
function seek(draft: Draft, id: string, text: string): void {
  const field = fieldOf(draft, id);
  if (!field || !editable(draft, id)) return;
  own(draft, 'touched')[id] = true;
  if (!field.source || text === '') {
    type(draft, id, text);
    settleTyped(draft, id);
    return;
  }
  assign(draft, id, null);
  own(draft, 'unread')[id] = { text, message: `Looking for “${text}”…` };
  settleTyped(draft, id);
  askMatch(draft, id, text);
}

function takeMatch(draft: Draft, id: string, choice: Choice | null): void {
  const field = fieldOf(draft, id);
  const text = draft.unread[id]?.text;
  if (!field || text === undefined) return;
  if (!choice) {
    own(draft, 'unread')[id] = unmatched(text);
    return;
  }
  assign(draft, id, choice.value, field.source?.column === undefined ? linkedOf(choice) : undefined);
  settle(draft, id);
}

const linkedOf = (choice: Choice) => ({ title: choice.title, facts: choice.facts });

/** What was asked without an answer is asked again when its field is next left or saved. */
function fail(draft: Draft, event: Extract<EntryEvent, { type: 'failed' }>): void {
  if (!answers(draft, event.kind, event.field, event.number)) return;
  if (event.kind === 'save' || draft.phase === 'settling') draft.phase = 'open';
  if (event.kind === 'save' || event.kind === 'choices' || event.kind === 'only') return;
  if (event.kind === 'match') {
    own(draft, 'unread')[event.field] = {
      text: draft.unread[event.field]?.text ?? '',
      message: 'The server did not answer. Choose one of the list.',
    };
    return;
  }
  drop(draft, 'settled', event.field);
  own(draft, 'missed')[event.field] = {
    message: 'The server did not answer. Leave this field again to retry.',
    stops: false,
  };
}

const editable = (draft: Draft, id: string): boolean => fieldOf(draft, id)?.readOnly === false;

/** A value that was typed over keeps the memory of what filled it; a field that was emptied does not. */
function forgetOrigin(draft: Draft, id: string): void {
  if (isBlank(draft.values[id])) drop(draft, 'origins', id);
}

function takeOnly(draft: Draft, id: string, choice: Choice | null): void {
  const field = fieldOf(draft, id);
  if (!field || !choice || !isBlank(draft.values[id]) || draft.unread[id]) return;
  const linked = field.source?.column === undefined ? linkedOf(choice) : undefined;
  assign(draft, id, choice.value, linked);
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

function type(draft: Draft, id: string, text: string): void {
  const field = fieldOf(draft, id)?.field;
  if (!field || !editable(draft, id)) return;
  const read = typeOf(field).parse(text, field.settings);
  if (read.ok && sameValue(read.value, draft.values[id]) && !draft.unread[id]) return;
  assign(draft, id, read.ok ? read.value : null);
  if (read.ok) forgetOrigin(draft, id);
  if (!read.ok) own(draft, 'unread')[id] = { text, message: read.message };
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

function sendIfSound(draft: Draft): void {
  const sound = problemsOf({ ...draft, phase: 'open' }).length === 0;
  draft.phase = sound ? 'saving' : 'open';
  if (sound) ask(draft, { kind: 'save', ...submission(draft) });
}

/**
 * The same entry under a changed definition of its form: values of fields that are still there stay. For the Studio,
 * where the card being edited is live.
 */
export function carryOver(form: PreparedForm, old: EntryState): Step {
  const draft = draftOf({ ...blankState(form, old.opening), requestsMade: old.requestsMade });
  for (const [id, field] of form.fields) {
    if (!old.form.fields.has(id) || (isBlank(old.values[id]) && !old.touched[id])) continue;
    own(draft, 'values')[id] = old.values[id] ?? null;
    own(draft, 'settled')[id] = old.values[id] ?? null;
    if (old.linked[id]) own(draft, 'linked')[id] = old.linked[id];
    if (old.origins[id]) own(draft, 'origins')[id] = old.origins[id];
    if (old.touched[id] && field.placed) own(draft, 'touched')[id] = true;
  }
  draft.linesMade = old.linesMade;
  draft.lines = carryLines(draft, old);
  for (const subform of form.subforms.values()) keepBlank(draft, subform);
  deriveAll(draft);
  askFacts(draft);
  bringUpToDate(draft);
  return stepOf(draft);
}

const carryLines = (draft: Draft, old: EntryState): Lines =>
  Object.fromEntries(
    [...draft.form.subforms.values()].map((subform) => [
      subform.id,
      (old.lines[subform.id] ?? [])
        .filter((line) => counts(line) && line.state.form.table.id === subform.form.table.id)
        .map((line) => ({ ...line, state: carryOver(subform.form, line.state).state })),
    ]),
  );

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
