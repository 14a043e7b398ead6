import { sameValue, type Value } from '../fields/index.ts';
import { fieldsDirty } from './counting.ts';
import { assign, type Draft, drop, own } from './draft.ts';
import { enclosingOf, freshKey, keepBlank, lineOpening, reduceLine } from './lines.ts';
import type { EntryEvent, Line, OpenedRecord } from './state.ts';

/**
 * Lays an entry over what was saved meanwhile. What a person did not touch takes the saved value, and says so where it is
 * somebody else’s; a field that both changed keeps this person’s value until they decide. After one’s own save, what was
 * typed since stays as it is. Lines meet one by one: those that the
 * other added come in, those that the other archived go, unless something was typed in them.
 */
export function meet(draft: Draft, { record, lines, by }: Extract<EntryEvent, { type: 'met' }>): void {
  const before = draft.original;
  const now: Record<string, Value> = {};
  for (const field of draft.form.fields.values()) {
    const { id } = field;
    const theirs = record.values[id] ?? null;
    now[id] = theirs;
    const mine = draft.values[id] ?? null;
    const touched = draft.unread[id] !== undefined || (!field.calculation && !sameValue(mine, before[id]));
    if (!touched) take(draft, id, theirs, record, by);
    else if (by !== null && !sameValue(theirs, before[id]) && !sameValue(theirs, mine))
      own(draft, 'disputes')[id] = { value: theirs, title: record.linked[id]?.title ?? null, by };
    else drop(draft, 'disputes', id);
  }
  draft.original = now;
  draft.opening = { ...draft.opening, record, lines: lines ?? draft.opening.lines };
  draft.refusals = [];
  for (const [subform, theirs] of Object.entries(lines ?? {})) meetLines(draft, subform, theirs, by);
}

function take(draft: Draft, id: string, theirs: Value, record: OpenedRecord, by: string | null): void {
  if (sameValue(draft.values[id], theirs)) return;
  assign(draft, id, theirs, record.linked[id]);
  own(draft, 'settled')[id] = theirs;
  const origin = record.origins?.[id];
  if (origin) own(draft, 'origins')[id] = origin;
  else drop(draft, 'origins', id);
  if (by !== null) own(draft, 'notices')[id] = `${by} has just changed this.`;
}

function meetLines(draft: Draft, id: string, theirs: readonly OpenedRecord[], by: string | null): void {
  const subform = draft.form.subforms.get(id);
  if (!subform) return;
  const known = new Set<number>();
  const mine = (draft.lines[id] ?? []).flatMap((line): Line[] => {
    const { record } = line.state.opening;
    if (!record) return [line];
    known.add(record.id);
    if (theirs.some((one) => one.id === record.id)) return [line];
    // What was typed in a line that the other archived is kept as a new one.
    return fieldsDirty(line.state) && !line.archived ? [asNew(line, by)] : [];
  });
  const enclosing = enclosingOf(draft);
  const added = theirs
    .filter((one) => !known.has(one.id))
    .map((one): Line => {
      const key = freshKey(draft);
      const step = draft.reducer.open(subform.form, lineOpening(draft, enclosing, one));
      for (const request of step.requests) draft.requests.push({ ...request, line: { subform: id, key } });
      return { key, archived: false, state: step.state };
    });
  const saved = mine.filter((line) => line.state.opening.record);
  draft.lines = { ...draft.lines, [id]: [...saved, ...added, ...mine.filter((line) => !line.state.opening.record)] };
  draft.moved.add(id);
  for (const record of theirs) {
    const line = mine.find((one) => one.state.opening.record?.id === record.id);
    if (line) reduceLine(draft, { subform: id, key: line.key }, { type: 'met', record, by });
  }
  keepBlank(draft, subform);
}

function asNew(line: Line, by: string | null): Line {
  const [first] = line.state.form.fields.keys();
  const notices =
    first === undefined ? {} : { [first]: `${by ?? 'Somebody'} has archived this line; saved, it comes as a new one.` };
  const { state } = line;
  return { ...line, state: { ...state, original: {}, opening: { ...state.opening, record: null }, notices } };
}

/** A person decides between two values of one field. */
export function decideDispute(draft: Draft, id: string, takeTheirs: boolean): void {
  const dispute = draft.disputes[id];
  if (!dispute) return;
  drop(draft, 'disputes', id);
  if (!takeTheirs) return;
  const linked = draft.opening.record?.linked[id];
  assign(draft, id, dispute.value, linked);
  own(draft, 'settled')[id] = dispute.value;
}
