import {
  isBlank,
  itemsOf,
  linksOne,
  namesPeople,
  type Problem,
  sameValue,
  type Value,
  type Values,
} from '../fields/index.ts';
import type { Origin } from '../fills/index.ts';
import { ENCLOSING, type PreparedField, type PreparedForm } from '../forms/index.ts';
import { say } from '../languages/index.ts';
import { certainPairs } from '../narrowing/index.ts';
import { type FieldId, typeOf } from '../tables/index.ts';
import { deriveAll } from './derive.ts';
import { blankState } from './initial.ts';
import { linePath } from './linePath.ts';
import { enclosingOf, lineOpening } from './lines.ts';
import { propagate } from './propagate.ts';
import { askForOnlyChoice } from './questions.ts';
import { readable } from './readable.ts';
import { bringUpToDate, entryReducer } from './reduce.ts';
import { effectiveValues } from './scope.ts';
import type { EntryState, Opening, SentLine, Step, SubformLine, Submission } from './state.ts';
import { drop, fieldState, mutable, stepOf, updateField, type WorkingState, workingStateOf } from './workingState.ts';

/** What a client submitted for a form, before it is checked. */
export interface Sent extends Partial<Pick<Submission, 'reasons' | 'picked'>> {
  readonly values: Readonly<Record<string, unknown>>;
  readonly lines?: Readonly<Record<string, readonly SentLineOf[]>>;
}

/** A line as a client submitted it, before it is checked. */
export type SentLineOf = Omit<SentLine, 'values' | 'version'> & { readonly values?: Sent['values'] };

/**
 * Replays what was sent for a form, as the server decides it. Values that were sent stand as they are; fields that
 * were not sent take their default, are filled, or keep the record's value. The requests are answered like those of
 * `reduceEntry`, and then `problemsOf` and `checksOf` say whether it may be written.
 */
export function submitEntry(form: PreparedForm, opening: Opening, sent: Sent): Step {
  const working = workingStateOf(
    {
      ...blankState(form, opening),
      mode: 'replayed',
      reasons: sent.reasons ?? {},
    },
    entryReducer,
  );
  for (const [id, picked] of Object.entries(sent.picked ?? {})) updateField(working, id, { picked });
  const refusals: Problem[] = [];
  for (const [id, json] of Object.entries(sent.values)) {
    const problem = takeSubmitted(working, id, json);
    if (problem) refusals.push(problem);
  }
  takeSubmittedLines(working, sent.lines ?? {}, refusals);
  working.refusals = refusals;
  deriveAll(working);
  for (const id of form.wiring.order) if (mustPropagate(working, id)) propagate(working, id);
  if (opening.record === null)
    for (const field of form.fields.values()) if (isBlank(working.values[field.id])) askForOnlyChoice(working, field);
  bringUpToDate(working);
  return stepOf(working);
}

/** Replays the submitted lines, each like an entry; lines that were not submitted stay unchanged. */
function takeSubmittedLines(working: WorkingState, sent: NonNullable<Sent['lines']>, refusals: Problem[]): void {
  for (const id of Object.keys(sent))
    if (!working.form.subforms.has(id))
      refusals.push({ path: id, rule: 'field', message: say('{field} is not a subform of this form.', { field: id }) });
  if (working.form.subforms.size === 0) return;
  const enclosing = enclosingOf(working);
  const lines: Record<string, readonly SubformLine[]> = {};
  for (const subform of working.form.subforms.values()) {
    const opened = new Map((working.opening.lines?.[subform.id] ?? []).map((record) => [record.id, record]));
    const taken = (sent[subform.id] ?? []).flatMap((one): SubformLine[] => {
      const record = one.id === undefined ? null : (opened.get(one.id) ?? undefined);
      if (record === undefined) {
        refusals.push({
          path: linePath({ subform: subform.id, key: one.key }, ''),
          rule: 'line',
          message: say('This line is not there any more: somebody has archived it, or it belongs to another record.'),
        });
        return [];
      }
      if (record) opened.delete(record.id);
      const step = submitEntry(subform.form, lineOpening(working, enclosing, record), {
        ...one,
        values: one.values ?? {},
      });
      for (const request of step.requests)
        working.requests.push({ ...request, line: { subform: subform.id, key: one.key } });
      return [{ key: one.key, archived: one.archived === true, state: step.state }];
    });
    const kept = [...opened.values()].map(
      (record): SubformLine => ({
        key: `kept${record.id}`,
        archived: false,
        state: submitEntry(subform.form, lineOpening(working, enclosing, record), { values: {} }).state,
      }),
    );
    lines[subform.id] = [...taken, ...kept];
  }
  working.lines = lines;
}

function takeSubmitted(working: WorkingState, id: string, json: unknown): Problem | undefined {
  const field = working.form.fields.get(id);
  if (!field?.placed)
    return { path: id, rule: 'field', message: say('{field} is not a field of this form.', { field: id }) };
  const read = typeOf(field.field).accept(json === '' ? null : json, field.field.settings);
  if (!read.ok) {
    updateField(working, id, {
      unparsed: {
        text: typeof json === 'string' ? json : (JSON.stringify(json) ?? ''),
        message: read.message,
      },
    });
    return undefined;
  }
  if (field.readOnly) {
    // A calculated value is computed here, whatever was submitted.
    const same = field.calculation !== null || sameValue(read.value, working.values[id]);
    return same
      ? undefined
      : { path: id, rule: 'readOnly', message: say('{field} cannot be written here.', { field: field.label }) };
  }
  if (!sameValue(read.value, working.values[id])) drop(working, 'linked', id);
  mutable(working, 'values')[id] = read.value;
  updateField(working, id, { submitted: true });
  return undefined;
}

/** True for every field of a new record, and for the changed fields of an existing one: values copied earlier stay. */
function mustPropagate(working: WorkingState, id: string): boolean {
  const field = working.form.fields.get(id);
  const value = working.values[id] ?? null;
  if (!field) return false;
  const changed = working.opening.record === null || !sameValue(value, working.original[id]);
  if (isBlank(value)) return changed && field.fill !== null;
  return (
    (changed && (fillsSomething(working, field) || parentsMissing(working, field))) || factsMissing(working, field)
  );
}

const fillsSomething = (working: WorkingState, field: PreparedField): boolean =>
  field.fill !== null &&
  (field.fill.whenNone === 'refuse' || field.fill.pairs.some(({ to }) => working.form.fields.has(to)));

const parentsMissing = (working: WorkingState, field: PreparedField): boolean =>
  certainPairs(field.narrowing.where).some(
    ({ parent }) =>
      isBlank(working.values[parent]) &&
      !fieldState(working, parent).submitted &&
      working.form.fields.get(parent)?.readOnly !== true,
  );

const factsMissing = (working: WorkingState, field: PreparedField): boolean => {
  const linked = working.linked[field.id];
  const stale = !sameValue(working.values[field.id], working.original[field.id]) || !linked;
  return linksOne(field.field) && field.factPaths.length > 0 && stale;
};

/** A value that must be among the choices of its dropdown: the server asks its tables. */
export interface Check {
  readonly field: FieldId;
  /** For a field of several links, one check each. */
  readonly value: string | number | boolean;
  /** False for a saved value that stays: an archived record may stay, too. */
  readonly fresh: boolean;
}

/** The dropdowns of a replayed submission whose value must be checked: those that changed, or whose parents did. */
export function checksOf(state: EntryState): Check[] {
  const isNew = state.opening.record === null;
  const values = effectiveValues(readable(state));
  const changed = (id: string): boolean => isNew || !sameValue(values[id], state.original[id]);
  // A line is also narrowed by its enclosing record, which may have changed while the line did not.
  const around = state.opening.enclosing;
  const changedAround = (id: string): boolean =>
    around?.before !== undefined && !sameValue(around.values[id], around.before[id]);
  return [...state.form.fields.values()].flatMap((field) => {
    const value = values[field.id] ?? null;
    if (!field.source || isBlank(value)) return [];
    const moved = state.form.wiring.edges.some(
      (edge) =>
        edge.kind === 'narrows' &&
        edge.to === field.id &&
        (edge.from.startsWith(ENCLOSING) ? changedAround(edge.from.slice(ENCLOSING.length)) : changed(edge.from)),
    );
    if (!changed(field.id) && !moved) return [];
    if (typeof value === 'object') {
      const before = itemsOf(isNew ? null : state.original[field.id]);
      return itemsOf(value).map((item) => ({ field: field.id, value: item, fresh: !before.includes(item) }));
    }
    return [{ field: field.id, value, fresh: changed(field.id) }];
  });
}

/** The people that a replayed submission newly names: the login by field, where it is another than before. */
export function peopleNamed(state: EntryState): { readonly field: FieldId; readonly login: string }[] {
  const values = effectiveValues(readable(state));
  return [...state.form.fields.values()].flatMap(({ id, field }) => {
    const login = values[id] ?? null;
    const before = state.opening.record ? (state.original[id] ?? null) : null;
    return namesPeople(field) && typeof login === 'string' && login !== '' && login !== before
      ? [{ field: id, login }]
      : [];
  });
}

/** The columns of a replayed submission that differ from what the record holds, ready to be written. */
export function changesOf(state: EntryState): Values {
  const values = effectiveValues(readable(state));
  const entries = [...state.form.fields.values()].flatMap((field): [string, Value][] => {
    const value = values[field.id] ?? null;
    const before = state.opening.record ? (state.original[field.id] ?? null) : null;
    return typeOf(field.field).editable && !sameValue(value, before) ? [[field.id, value]] : [];
  });
  return Object.fromEntries(entries);
}

/** Where the values of a replayed submission came from, for those fields that something filled. */
export function originsOf(state: EntryState): Readonly<Record<string, Origin>> {
  const values = effectiveValues(readable(state));
  return Object.fromEntries(
    Object.entries(state.fields).flatMap(([id, { origin: filled }]) => {
      if (!filled || isBlank(values[id])) return [];
      const { now, ...origin } = filled;
      return [[id, now !== undefined && sameValue(now, values[id]) ? { ...origin, value: now } : origin]];
    }),
  );
}
