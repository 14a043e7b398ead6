import { sameValue, type Value } from '../fields/index.ts';
import { say } from '../languages/index.ts';
import { enclosingOf, freshKey, keepBlank, lineOpening, reduceLine } from './lines.ts';
import { fieldsDirty } from './presence.ts';
import type { EntryEvent, OpenedRecord, SubformLine } from './state.ts';
import { assign, fieldState, updateField, type WorkingState } from './workingState.ts';

/**
 * Merges a record that was saved meanwhile into the entry. An untouched field takes the saved value, with a notice where
 * somebody else saved it; a field that both changed keeps this person’s value as a conflict until they decide. Lines are
 * merged one by one: added ones are added, archived ones are removed unless something was typed in them.
 */
export function mergeRemote(
  working: WorkingState,
  { record, lines, by }: Extract<EntryEvent, { type: 'remoteSaved' }>,
): void {
  const before = working.original;
  const now: Record<string, Value> = {};
  for (const field of working.form.fields.values()) {
    const { id } = field;
    const theirs = record.values[id] ?? null;
    now[id] = theirs;
    const mine = working.values[id] ?? null;
    const touched =
      fieldState(working, id).unparsed !== undefined || (!field.calculation && !sameValue(mine, before[id]));
    if (!touched) takeRemote(working, id, theirs, record, by);
    else if (by !== null && !sameValue(theirs, before[id]) && !sameValue(theirs, mine))
      updateField(working, id, { conflict: { value: theirs, title: record.linked[id]?.title ?? null, by } });
    else updateField(working, id, { conflict: undefined });
  }
  working.original = now;
  working.opening = { ...working.opening, record, lines: lines ?? working.opening.lines };
  working.refusals = [];
  for (const [subform, theirs] of Object.entries(lines ?? {})) mergeRemoteLines(working, subform, theirs, by);
}

function takeRemote(working: WorkingState, id: string, theirs: Value, record: OpenedRecord, by: string | null): void {
  if (sameValue(working.values[id], theirs)) return;
  assign(working, id, theirs, record.linked[id]);
  updateField(working, id, { propagated: theirs, origin: record.origins?.[id] });
  if (by !== null) updateField(working, id, { notice: say('{name} has just changed this.', { name: by }) });
}

function mergeRemoteLines(working: WorkingState, id: string, theirs: readonly OpenedRecord[], by: string | null): void {
  const subform = working.form.subforms.get(id);
  if (!subform) return;
  const known = new Set<number>();
  const mine = (working.lines[id] ?? []).flatMap((line): SubformLine[] => {
    const { record } = line.state.opening;
    if (!record) return [line];
    known.add(record.id);
    if (theirs.some((one) => one.id === record.id)) return [line];
    // A line with unsaved changes that the other archived is kept as a new line.
    return fieldsDirty(line.state) && !line.archived ? [asNew(line, by)] : [];
  });
  const enclosing = enclosingOf(working);
  const added = theirs
    .filter((one) => !known.has(one.id))
    .map((one): SubformLine => {
      const key = freshKey(working);
      const step = working.reducer.open(subform.form, lineOpening(working, enclosing, one));
      for (const request of step.requests) working.requests.push({ ...request, line: { subform: id, key } });
      return { key, archived: false, state: step.state };
    });
  const saved = mine.filter((line) => line.state.opening.record);
  working.lines = {
    ...working.lines,
    [id]: [...saved, ...added, ...mine.filter((line) => !line.state.opening.record)],
  };
  working.changed.add(id);
  for (const record of theirs) {
    const line = mine.find((one) => one.state.opening.record?.id === record.id);
    if (line) reduceLine(working, { subform: id, key: line.key }, { type: 'remoteSaved', record, by });
  }
  keepBlank(working, subform);
}

function asNew(line: SubformLine, by: string | null): SubformLine {
  const [first] = line.state.form.fields.keys();
  const { state } = line;
  const notice = say('{name} has archived this line; saved, it comes as a new one.', { name: by ?? say('Somebody') });
  const fields = first === undefined ? {} : { [first]: { ...fieldState(state, first), notice } };
  return {
    ...line,
    state: {
      ...state,
      original: {},
      opening: { ...state.opening, record: null },
      fields: { ...state.fields, ...fields },
    },
  };
}

/** Resolves a conflict with this person’s value or with the saved one. */
export function decideConflict(working: WorkingState, id: string, takeTheirs: boolean): void {
  const dispute = fieldState(working, id).conflict;
  if (!dispute) return;
  updateField(working, id, { conflict: undefined });
  if (!takeTheirs) return;
  const linked = working.opening.record?.linked[id];
  assign(working, id, dispute.value, linked);
  updateField(working, id, { propagated: dispute.value });
}
