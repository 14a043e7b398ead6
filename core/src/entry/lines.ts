import { sameValue, type Value } from '../fields/index.ts';
import type { PreparedSubform } from '../forms/index.ts';
import type { FieldId } from '../tables/index.ts';
import { deriveAll } from './derive.ts';
import { blankState } from './initial.ts';
import { isPresent, presentLines } from './presence.ts';
import { readable } from './readable.ts';
import { effectiveValues, readForm } from './scope.ts';
import type {
  Enclosing,
  EntryEvent,
  EntryState,
  LineAddress,
  OpenedRecord,
  Opening,
  Request,
  SubformLine,
} from './state.ts';
import { fieldState, openRequests, stepOf, updateField, type WorkingState, workingStateOf } from './workingState.ts';

/** How many steps back the lines of an entry can be taken. */
const MOST_UNDO = 50;

/** The enclosing record as its lines read it. */
export const enclosingOf = (parent: WorkingState | EntryState): Enclosing => ({
  values: effectiveValues(readable(parent)),
  ...(parent.opening.record ? { before: parent.original } : {}),
  linked: parent.linked,
});

export const lineOpening = (parent: WorkingState, enclosing: Enclosing, record: OpenedRecord | null): Opening => ({
  account: parent.opening.account,
  now: parent.opening.now,
  record,
  enclosing,
});

/** Opens the lines that a record has, and in each subform a blank one. */
export function openLines(working: WorkingState): void {
  if (working.form.subforms.size === 0) return;
  const enclosing = enclosingOf(working);
  const lines: Record<string, readonly SubformLine[]> = {};
  for (const subform of working.form.subforms.values()) {
    const opened = (working.opening.lines?.[subform.id] ?? []).map((record): SubformLine => {
      const key = freshKey(working);
      const step = working.reducer.open(subform.form, lineOpening(working, enclosing, record));
      send(working, { subform: subform.id, key }, step.requests);
      return { key, archived: false, state: step.state };
    });
    lines[subform.id] = opened;
  }
  working.lines = lines;
  for (const subform of working.form.subforms.values()) keepBlank(working, subform);
}

export function freshKey(working: WorkingState): string {
  working.linesMade += 1;
  return `l${working.linesMade}`;
}

/** A blank line with its defaults. It makes no requests before somebody enters something in it. */
function blankLine(working: WorkingState, subform: PreparedSubform): SubformLine {
  const inner = workingStateOf(
    blankState(subform.form, lineOpening(working, enclosingOf(working), null)),
    working.reducer,
  );
  deriveAll(inner);
  return { key: freshKey(working), archived: false, state: stepOf(inner).state };
}

/** Keeps one blank line at the end, as long as one more line is allowed. */
export function keepBlank(working: WorkingState, subform: PreparedSubform): void {
  const lines = working.lines[subform.id] ?? [];
  const last = lines.at(-1);
  const { most } = subform.definition;
  const room = subform.form.definition.may.add && presentLines(working, subform.id).length < (most ?? Infinity);
  if (last && !isPresent(last)) {
    if (!room) setLines(working, subform.id, lines.slice(0, -1));
  } else if (room && working.mode === 'filled') setLines(working, subform.id, [...lines, blankLine(working, subform)]);
}

const setLines = (working: WorkingState, subform: string, lines: readonly SubformLine[]): void => {
  working.lines = { ...working.lines, [subform]: lines };
};

/** Passes the requests of a line on, with its address. */
function send(working: WorkingState, line: LineAddress, requests: readonly Request[]): void {
  for (const request of requests) working.requests.push({ ...request, line });
}

/** Applies an event to a line. An event for a line that is gone is ignored. */
export function reduceLine(working: WorkingState, at: LineAddress, event: EntryEvent): void {
  const subform = working.form.subforms.get(at.subform);
  const lines = working.lines[at.subform] ?? [];
  const place = lines.findIndex((line) => line.key === at.key);
  const before = lines[place];
  if (!subform || !before) return;
  let step = working.reducer.reduce(before.state, event);
  send(working, at, step.requests);
  let after: SubformLine = { ...before, state: step.state };
  if (!isPresent(before) && isPresent(after)) {
    step = working.reducer.reduce(after.state, { type: 'lineStarted' });
    send(working, at, step.requests);
    after = { ...after, state: step.state };
  }
  replace(working, subform, place, before, after);
}

/** Starts a new line with a value in the blank one, where one more line is allowed. */
export function beginLine(working: WorkingState, subform: string, field: FieldId, value: Value): void {
  const blank = working.lines[subform]?.at(-1);
  if (blank && !isPresent(blank)) reduceLine(working, { subform, key: blank.key }, { type: 'changed', field, value });
}

function replace(
  working: WorkingState,
  subform: PreparedSubform,
  place: number,
  before: SubformLine,
  after: SubformLine,
): void {
  setLines(
    working,
    subform.id,
    (working.lines[subform.id] ?? []).map((line, at) => (at === place ? after : line)),
  );
  if (reads(subform, before, after)) working.changed.add(subform.id);
  keepBlank(working, subform);
}

/** True when the enclosing form reads something of the line that changed. */
function reads(subform: PreparedSubform, before: SubformLine, after: SubformLine): boolean {
  if (isPresent(before) !== isPresent(after) || before.archived !== after.archived) return true;
  const [old, now] = [readable(before.state), readable(after.state)];
  return subform.columns.some((column) => !sameValue(readForm(old, column), readForm(now, column)));
}

/**
 * Tells the lines which fields of the enclosing record changed, as far as they read them. True when a line changed in
 * something that the enclosing form reads.
 */
export function refreshLines(working: WorkingState): boolean {
  const passed = new Set(working.changedForLines);
  working.changedForLines.clear();
  if (passed.size === 0) return false;
  let enclosing: Enclosing | undefined;
  for (const subform of working.form.subforms.values()) {
    const moved = [...subform.enclosing].filter((field) => passed.has(field));
    if (moved.length === 0) continue;
    enclosing ??= enclosingOf(working);
    for (const line of working.lines[subform.id] ?? [])
      if (!line.archived)
        reduceLine(working, { subform: subform.id, key: line.key }, { type: 'enclosingChanged', enclosing, moved });
  }
  return working.changed.size > 0;
}

/** Remembers the lines as they are, for undo. */
function remember(working: WorkingState): void {
  working.past = [...working.past.slice(1 - MOST_UNDO), working.lines];
}

/** Archives a line with the next save; a line that was never saved is removed. */
export function archiveLine(working: WorkingState, { subform: id, key }: LineAddress): void {
  const subform = working.form.subforms.get(id);
  const line = working.lines[id]?.find((one) => one.key === key);
  if (!subform || !line || !isPresent(line)) return;
  remember(working);
  const saved = line.state.opening.record !== null;
  setLines(
    working,
    id,
    (working.lines[id] ?? []).flatMap((one) => (one !== line ? [one] : saved ? [{ ...one, archived: true }] : [])),
  );
  working.changed.add(id);
  keepBlank(working, subform);
}

/** Moves a line to another place among those that are there. */
export function moveLine(working: WorkingState, { subform, key }: LineAddress, to: number): void {
  const lines = working.lines[subform] ?? [];
  const line = lines.find((one) => one.key === key);
  const there = presentLines(working, subform);
  if (!line || !there.includes(line)) return;
  remember(working);
  const rest = there.filter((one) => one !== line);
  const place = Math.max(0, Math.min(to, rest.length));
  const ordered = [...rest.slice(0, place), line, ...rest.slice(place)];
  setLines(working, subform, [...ordered, ...lines.filter((one) => !there.includes(one))]);
}

/** Undoes the last step that added, moved, archived, copied or pasted lines, together with what was typed since. */
export function undoLines(working: WorkingState): void {
  const before = working.past.at(-1);
  if (!before) return;
  working.past = working.past.slice(0, -1);
  working.lines = before;
  for (const subform of working.form.subforms.values()) {
    working.changed.add(subform.id);
    keepBlank(working, subform);
    resumeLines(working, subform.id);
    for (const field of subform.enclosing) working.changedForLines.add(field);
  }
}

/** Sends the open requests of restored lines again: their answers were lost. */
export function resumeLines(working: WorkingState, subform: string): void {
  for (const { key, state } of working.lines[subform] ?? [])
    if (Object.keys(state.fields).some((id) => openRequests(state, id).length > 0))
      reduceLine(working, { subform, key }, { type: 'requestsResent' });
}

/** Copies a cell from the line above. */
export function copyDown(working: WorkingState, at: LineAddress, field: FieldId): void {
  const there = (working.lines[at.subform] ?? []).filter((line) => !line.archived);
  const above = there[there.findIndex((line) => line.key === at.key) - 1];
  if (!above) return;
  remember(working);
  const { values, linked } = above.state;
  const text = fieldState(above.state, field).unparsed?.text;
  const value = values[field] ?? null;
  if (text !== undefined) reduceLine(working, at, { type: 'textMatched', field, text, near: true });
  else reduceLine(working, at, { type: 'changed', field, value, linked: linked[field], unchosen: true });
}

/** The columns of a subform that can be typed in, in their order. */
export const openColumns = (subform: PreparedSubform): string[] =>
  [...subform.form.fields.values()].filter((field) => field.placed && !field.readOnly).map((field) => field.id);

/**
 * Puts a block of cells into the lines, from one cell on to the right and down; new lines begin where the old ones end.
 * What stands beyond the last column, and lines beyond the most, are left out.
 */
export function pasteBlock(
  working: WorkingState,
  at: LineAddress,
  field: FieldId,
  rows: readonly (readonly string[])[],
): void {
  const subform = working.form.subforms.get(at.subform);
  if (!subform) return;
  remember(working);
  const columns = openColumns(subform);
  const from = Math.max(0, columns.indexOf(field));
  let key: string | undefined = at.key;
  for (const row of rows) {
    if (key === undefined) return;
    const line = { subform: at.subform, key };
    row.slice(0, columns.length - from).forEach((text, n) => {
      const column = columns[from + n];
      if (column !== undefined) reduceLine(working, line, { type: 'textMatched', field: column, text: text.trim() });
    });
    const there = (working.lines[at.subform] ?? []).filter((one) => !one.archived);
    key = there[there.findIndex((one) => one.key === key) + 1]?.key;
  }
}

/** Marks every field of every line as touched, and propagates what was typed; with `items` of those subforms only. */
export function touchAllLines(working: WorkingState, items?: readonly string[]): void {
  for (const subform of working.form.subforms.values()) {
    if (items && !items.includes(subform.id)) continue;
    updateField(working, subform.id, { touched: true });
    for (const line of presentLines(working, subform.id))
      reduceLine(working, { subform: subform.id, key: line.key }, { type: 'allTouched' });
  }
}
