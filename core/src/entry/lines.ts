import { sameValue, type Value } from '../fields/index.ts';
import type { PreparedSubform } from '../forms/index.ts';
import { counts, linesIn } from './counting.ts';
import { deriveAll } from './derive.ts';
import { type Draft, draftOf, own, stepOf } from './draft.ts';
import { blankState } from './initial.ts';
import { readable } from './readable.ts';
import { effectiveValues, readForm } from './scope.ts';
import type { Enclosing, EntryEvent, EntryState, Line, LineAt, OpenedRecord, Opening, Request } from './state.ts';

/** How many steps back the lines of an entry can be taken. */
const MOST_UNDO = 50;

/** The record around a line, as the line reads it. */
export const enclosingOf = (parent: Draft | EntryState): Enclosing => ({
  values: effectiveValues(readable(parent)),
  ...(parent.opening.record ? { before: parent.original } : {}),
  linked: parent.linked,
});

export const lineOpening = (parent: Draft, enclosing: Enclosing, record: OpenedRecord | null): Opening => ({
  account: parent.opening.account,
  now: parent.opening.now,
  record,
  enclosing,
});

/** Opens the lines that a record has, and in each subform a blank one. */
export function openLines(draft: Draft): void {
  if (draft.form.subforms.size === 0) return;
  const enclosing = enclosingOf(draft);
  const lines: Record<string, readonly Line[]> = {};
  for (const subform of draft.form.subforms.values()) {
    const opened = (draft.opening.lines?.[subform.id] ?? []).map((record): Line => {
      const key = freshKey(draft);
      const step = draft.reducer.open(subform.form, lineOpening(draft, enclosing, record));
      send(draft, { subform: subform.id, key }, step.requests);
      return { key, archived: false, state: step.state };
    });
    lines[subform.id] = opened;
  }
  draft.lines = lines;
  for (const subform of draft.form.subforms.values()) keepBlank(draft, subform);
}

export function freshKey(draft: Draft): string {
  draft.linesMade += 1;
  return `l${draft.linesMade}`;
}

/** A line that nothing was typed in: its defaults are there, and nothing is asked before somebody begins. */
function blankLine(draft: Draft, subform: PreparedSubform): Line {
  const inner = draftOf(blankState(subform.form, lineOpening(draft, enclosingOf(draft), null)), draft.reducer);
  deriveAll(inner);
  return { key: freshKey(draft), archived: false, state: stepOf(inner).state };
}

/** Keeps a blank line ready at the end, as long as there may be one more. */
export function keepBlank(draft: Draft, subform: PreparedSubform): void {
  const lines = draft.lines[subform.id] ?? [];
  const last = lines.at(-1);
  const { most } = subform.definition;
  const room = subform.form.definition.may.add && linesIn(draft, subform.id).length < (most ?? Infinity);
  if (last && !counts(last)) {
    if (!room) put(draft, subform.id, lines.slice(0, -1));
  } else if (room && draft.phase !== 'submitted') put(draft, subform.id, [...lines, blankLine(draft, subform)]);
}

const put = (draft: Draft, subform: string, lines: readonly Line[]): void => {
  draft.lines = { ...draft.lines, [subform]: lines };
};

/** What a line asks of the world is asked on its behalf. */
function send(draft: Draft, line: LineAt, requests: readonly Request[]): void {
  for (const request of requests) draft.requests.push({ ...request, line });
}

/** Gives one event to one line. A line that is not there any more takes no answers. */
export function reduceLine(draft: Draft, at: LineAt, event: EntryEvent): void {
  const subform = draft.form.subforms.get(at.subform);
  const lines = draft.lines[at.subform] ?? [];
  const place = lines.findIndex((line) => line.key === at.key);
  const before = lines[place];
  if (!subform || !before) return;
  let step = draft.reducer.reduce(before.state, event);
  send(draft, at, step.requests);
  let after: Line = { ...before, state: step.state };
  if (!counts(before) && counts(after)) {
    step = draft.reducer.reduce(after.state, { type: 'begun' });
    send(draft, at, step.requests);
    after = { ...after, state: step.state };
  }
  replace(draft, subform, place, before, after);
}

/** Begins a line with a value, where there may be one more. */
export function beginLine(draft: Draft, subform: string, field: string, value: Value): void {
  const blank = draft.lines[subform]?.at(-1);
  if (blank && !counts(blank)) reduceLine(draft, { subform, key: blank.key }, { type: 'changed', field, value });
}

function replace(draft: Draft, subform: PreparedSubform, place: number, before: Line, after: Line): void {
  put(
    draft,
    subform.id,
    (draft.lines[subform.id] ?? []).map((line, at) => (at === place ? after : line)),
  );
  if (reads(subform, before, after)) draft.moved.add(subform.id);
  keepBlank(draft, subform);
}

/** Whether the enclosing form reads something of a line that changed. */
function reads(subform: PreparedSubform, before: Line, after: Line): boolean {
  if (counts(before) !== counts(after) || before.archived !== after.archived) return true;
  const [old, now] = [readable(before.state), readable(after.state)];
  return subform.columns.some((column) => !sameValue(readForm(old, column), readForm(now, column)));
}

/**
 * Tells the lines what has changed around them, as far as they read it. True when something of them changed that the
 * enclosing form reads.
 */
export function refreshLines(draft: Draft): boolean {
  const passed = new Set(draft.passed);
  draft.passed.clear();
  if (passed.size === 0) return false;
  let enclosing: Enclosing | undefined;
  for (const subform of draft.form.subforms.values()) {
    const moved = [...subform.enclosing].filter((field) => passed.has(field));
    if (moved.length === 0) continue;
    enclosing ??= enclosingOf(draft);
    for (const line of draft.lines[subform.id] ?? [])
      if (!line.archived)
        reduceLine(draft, { subform: subform.id, key: line.key }, { type: 'enclosed', enclosing, moved });
  }
  return draft.moved.size > 0;
}

/** Remembers the lines as they are, for undo. */
function remember(draft: Draft): void {
  draft.past = [...draft.past.slice(1 - MOST_UNDO), draft.lines];
}

/** Takes a line out: one that was saved is archived with the next save, one that was not is simply gone. */
export function archiveLine(draft: Draft, { subform: id, key }: LineAt): void {
  const subform = draft.form.subforms.get(id);
  const line = draft.lines[id]?.find((one) => one.key === key);
  if (!subform || !line || !counts(line)) return;
  remember(draft);
  const saved = line.state.opening.record !== null;
  put(
    draft,
    id,
    (draft.lines[id] ?? []).flatMap((one) => (one !== line ? [one] : saved ? [{ ...one, archived: true }] : [])),
  );
  draft.moved.add(id);
  keepBlank(draft, subform);
}

/** Moves a line to another place among those that are there. */
export function moveLine(draft: Draft, { subform, key }: LineAt, to: number): void {
  const lines = draft.lines[subform] ?? [];
  const line = lines.find((one) => one.key === key);
  const there = linesIn(draft, subform);
  if (!line || !there.includes(line)) return;
  remember(draft);
  const rest = there.filter((one) => one !== line);
  const place = Math.max(0, Math.min(to, rest.length));
  const ordered = [...rest.slice(0, place), line, ...rest.slice(place)];
  put(draft, subform, [...ordered, ...lines.filter((one) => !there.includes(one))]);
}

/** Takes back the last step that added, moved, archived, copied or pasted lines; what was typed since goes with it. */
export function undoLines(draft: Draft): void {
  const before = draft.past.at(-1);
  if (!before) return;
  draft.past = draft.past.slice(0, -1);
  draft.lines = before;
  for (const subform of draft.form.subforms.values()) {
    draft.moved.add(subform.id);
    keepBlank(draft, subform);
    resumeLines(draft, subform.id);
    for (const field of subform.enclosing) draft.passed.add(field);
  }
}

/** Asks anew what lines of an earlier moment were waiting for: its answers have come and gone. */
export function resumeLines(draft: Draft, subform: string): void {
  for (const { key, state } of draft.lines[subform] ?? [])
    if (Object.keys(state.waiting).length > 0) reduceLine(draft, { subform, key }, { type: 'resumed' });
}

/** Gives a cell what the line above has there. */
export function copyDown(draft: Draft, at: LineAt, field: string): void {
  const there = (draft.lines[at.subform] ?? []).filter((line) => !line.archived);
  const above = there[there.findIndex((line) => line.key === at.key) - 1];
  if (!above) return;
  remember(draft);
  const { values, linked, unread } = above.state;
  const text = unread[field]?.text;
  const value = values[field] ?? null;
  if (text !== undefined) reduceLine(draft, at, { type: 'sought', field, text, near: true });
  else reduceLine(draft, at, { type: 'changed', field, value, linked: linked[field], unchosen: true });
}

/** The columns of a subform that can be typed in, in their order. */
export const openColumns = (subform: PreparedSubform): string[] =>
  [...subform.form.fields.values()].filter((field) => field.placed && !field.readOnly).map((field) => field.id);

/**
 * Puts a block of cells into the lines, from one cell on to the right and down; new lines begin where the old ones end.
 * What stands beyond the last column, and lines beyond the most, are left out.
 */
export function pasteBlock(draft: Draft, at: LineAt, field: string, rows: readonly (readonly string[])[]): void {
  const subform = draft.form.subforms.get(at.subform);
  if (!subform) return;
  remember(draft);
  const columns = openColumns(subform);
  const from = Math.max(0, columns.indexOf(field));
  let key: string | undefined = at.key;
  for (const row of rows) {
    if (key === undefined) return;
    const line = { subform: at.subform, key };
    row.slice(0, columns.length - from).forEach((text, n) => {
      const column = columns[from + n];
      if (column !== undefined) reduceLine(draft, line, { type: 'sought', field: column, text: text.trim() });
    });
    const there = (draft.lines[at.subform] ?? []).filter((one) => !one.archived);
    key = there[there.findIndex((one) => one.key === key) + 1]?.key;
  }
}

/** The cells of a block of text from a spreadsheet: tabs between cells, quotes around those with breaks. */
export function readBlock(text: string): string[][] {
  const rows: string[][] = [[]];
  const body = text.replace(/\r\n?/g, '\n').replace(/\n$/, '');
  for (const found of body.matchAll(/(?:"((?:[^"]|"")*)"(?=[\t\n]|$)|([^\t\n]*))(\t|\n|$)/g)) {
    if (found[0] === '' && (found.index ?? 0) >= body.length && body.length > 0 && !/[\t]$/.test(body)) break;
    rows.at(-1)?.push((found[1]?.replaceAll('""', '"') ?? found[2] ?? '').replaceAll('\n', ' '));
    if (found[3] === '\n') rows.push([]);
    if (found[3] === '') break;
  }
  return rows;
}

/** Marks every line that is there as one that a person has been in, and settles what was typed. */
export function pressLines(draft: Draft): void {
  for (const subform of draft.form.subforms.values()) {
    own(draft, 'touched')[subform.id] = true;
    for (const line of linesIn(draft, subform.id))
      reduceLine(draft, { subform: subform.id, key: line.key }, { type: 'pressed' });
  }
}
