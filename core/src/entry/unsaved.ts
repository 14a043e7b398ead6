import { isBlank, sameValue, type Value } from '../fields/index.ts';
import type { PreparedForm } from '../forms/index.ts';
import type { FieldId } from '../tables/index.ts';
import { isPresent } from './presence.ts';
import { isWaiting, reduceEntry } from './reduce.ts';
import type { EntryEvent, EntryState, LinkedRecord, OpenedRecord, Request, Step, SubformLine } from './state.ts';
import { fieldState, openRequest } from './workingState.ts';

/** One field with its unsaved value. */
export interface UnsavedField {
  readonly field: FieldId;
  readonly value: Value;
  /** Text that could not be read as a value. */
  readonly text?: string;
  /** The text was still being matched with the choices. */
  readonly sought?: true;
  readonly linked?: LinkedRecord;
}

interface UnsavedLine {
  /** The saved line that it changes; a new one without. */
  readonly id?: number;
  readonly archived?: true;
  readonly fields: readonly UnsavedField[];
}

/** Unsaved changes of an entry as plain data: kept while a tab is closed, and used to start a copy. */
export interface Unsaved {
  /** The record as it was when it was begun on; null for a new one. */
  readonly record: OpenedRecord | null;
  readonly fields: readonly UnsavedField[];
  readonly lines: Readonly<Record<string, readonly UnsavedLine[]>>;
}

/** The unsaved changes of an entry. */
export function unsavedOf(state: EntryState): Unsaved {
  return {
    record: state.opening.record,
    fields: enteredIn(state),
    lines: Object.fromEntries(
      [...state.form.subforms.keys()].map((id) => [
        id,
        (state.lines[id] ?? []).filter(isPresent).flatMap((line): UnsavedLine[] => {
          const fields = enteredIn(line.state);
          const record = line.state.opening.record;
          if (record && fields.length === 0 && !line.archived) return [];
          return [{ ...(record ? { id: record.id } : {}), ...(line.archived ? { archived: true } : {}), fields }];
        }),
      ]),
    ),
  };
}

const enteredIn = (state: EntryState): UnsavedField[] =>
  [...state.form.fields.values()].flatMap((field): UnsavedField[] => {
    const { id } = field;
    const value = state.values[id] ?? null;
    const text = fieldState(state, id).unparsed?.text;
    // A field that a person emptied counts as changed, so that it is not filled again.
    const left = sameValue(value, state.original[id]) && !fieldState(state, id).touched;
    if (field.readOnly || (text === undefined && left)) return [];
    const sought = openRequest(state, 'match', id) !== undefined ? { sought: true as const } : {};
    return [{ field: id, value, ...(text === undefined ? {} : { text, ...sought }), ...linkedOf(state, id) }];
  });

const linkedOf = (state: EntryState, id: string): Pick<UnsavedField, 'linked'> => {
  const linked = state.linked[id];
  return linked ? { linked } : {};
};

/**
 * What a person has entered in the fields of an entry after its changes were sent to be saved: `sent` are its unsaved
 * changes at that moment, `now` those of this one. Undefined where it is nothing. Lines are left out: those that were new
 * would come again.
 */
export function typedSince(sent: Unsaved, now: Unsaved): Unsaved | undefined {
  const before = new Map(sent.fields.map((one) => [one.field, one]));
  const after = new Set(now.fields.map((one) => one.field));
  const changed = now.fields.filter((one) => {
    const was = before.get(one.field);
    return !was || was.text !== one.text || !sameValue(was.value, one.value);
  });
  const putBack = sent.fields
    .filter((one) => !after.has(one.field))
    .map(({ field }): UnsavedField => ({ field, value: now.record?.values[field] ?? null }));
  const fields = [...changed, ...putBack];
  return fields.length === 0 ? undefined : { record: now.record, fields, lines: {} };
}

/** The values and lines that a copy of an entry starts with; unique and read-only fields are left out. */
export function unsavedCopyOf(state: EntryState): Unsaved {
  const all = (one: EntryState): UnsavedField[] =>
    [...one.form.fields.values()].flatMap((field): UnsavedField[] => {
      const value = one.values[field.id] ?? null;
      if (field.readOnly || field.field.unique || isBlank(value)) return [];
      return [{ field: field.id, value, ...linkedOf(one, field.id) }];
    });
  const line = ({ state: one }: SubformLine): UnsavedLine => ({ fields: all(one) });
  return {
    record: null,
    fields: all(state),
    lines: Object.fromEntries(
      [...state.form.subforms.keys()].map((id) => [
        id,
        (state.lines[id] ?? []).filter((one) => isPresent(one) && !one.archived).map(line),
      ]),
    ),
  };
}

/** Lets fills replace restored values in every entry and line without open requests. */
function withoutSubmitted(state: EntryState): EntryState {
  const lines = Object.entries(state.lines).map(([id, some]) => [
    id,
    some.map((line) => (isWaiting(line.state) ? line : { ...line, state: withSubmitted(line.state, []) })),
  ]);
  return { ...(isWaiting(state) ? state : withSubmitted(state, [])), lines: Object.fromEntries(lines) };
}

/** Keeps the restored values of these fields, and of no others, against fills. */
function withSubmitted(state: EntryState, restored: readonly UnsavedField[]): EntryState {
  const ids = new Set(restored.map(({ field }) => field));
  const fields = Object.entries(state.fields).map(([id, own]) => [id, { ...own, submitted: ids.has(id) || undefined }]);
  return { ...state, fields: Object.fromEntries(fields) };
}

/**
 * Restores unsaved changes in an entry that has just been opened, as if a person entered them again, so that everything
 * that depends on them is derived; a value that was typed over a filled one stays. Fields and lines that no longer exist are
 * left out. With `begun` the restored values count as the original ones, so that the entry has no unsaved changes.
 */
export function enterUnsaved(opened: EntryState, unsaved: Unsaved, begun = false): Step {
  let state = withSubmitted(opened, unsaved.fields);
  const requests: Request[] = [];
  const tell = (event: EntryEvent): void => {
    const step = reduceEntry(state, event);
    state = step.state;
    requests.push(...step.requests);
  };
  const eventOf = (form: PreparedForm, { field, value, text, sought, linked }: UnsavedField): EntryEvent => {
    if (text === undefined) return { type: 'changed', field, value, linked };
    // Text that was the title of no choice is not matched again: nobody would notice what it finds now.
    const isSettled = form.fields.get(field)?.source && !sought;
    return isSettled ? { type: 'unmatched', field, text } : { type: 'textMatched', field, text, near: true };
  };
  for (const one of unsaved.fields) if (state.form.fields.has(one.field)) tell(eventOf(state.form, one));
  for (const [subform, lines] of Object.entries(unsaved.lines))
    for (const left of lines) {
      const there = state.lines[subform] ?? [];
      const found =
        left.id === undefined
          ? there.find((line) => !isPresent(line))
          : there.find((line) => line.state.opening.record?.id === left.id);
      if (!found) continue;
      const line = { subform, key: found.key };
      state = {
        ...state,
        lines: {
          ...state.lines,
          [subform]: there.map((one) =>
            one.key === found.key ? { ...one, state: withSubmitted(one.state, left.fields) } : one,
          ),
        },
      };
      for (const one of left.fields)
        if (found.state.form.fields.has(one.field)) tell({ type: 'line', line, event: eventOf(found.state.form, one) });
      if (left.archived) tell({ type: 'lineArchived', line });
    }
  const original = begun
    ? {
        ...state.original,
        ...Object.fromEntries(unsaved.fields.map(({ field }) => [field, state.values[field] ?? null])),
      }
    : state.original;
  return { state: { ...withoutSubmitted(state), original, past: [] }, requests };
}
