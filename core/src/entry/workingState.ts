import { isBlank, isLinking, type Value } from '../fields/index.ts';
import type { PreparedField, PreparedForm } from '../forms/index.ts';
import { type FieldId, typeOf } from '../tables/index.ts';
import type {
  EntryEvent,
  EntryState,
  FieldRequest,
  FieldState,
  LinkedRecord,
  Opening,
  Question,
  Request,
  Step,
  Submission,
} from './state.ts';

type Opened<T> = T extends Readonly<Record<infer I, infer V>> ? Record<I, V> : never;

/** The maps of an `EntryState`. An event copies those that it changes, so that the state before it stays unchanged. */
type MapName = 'values' | 'linked' | 'hidden' | 'broken' | 'reasons' | 'fields';
type Plain = 'requestsMade' | 'phase' | 'refusals' | 'original' | 'opening' | 'lines' | 'past' | 'linesMade';

/**
 * An `EntryState` while one event is applied to it. Its maps are read directly, and changed through `mutable` and `drop`;
 * what is known of a field is read by `fieldState` and changed by `updateField`.
 */
export type WorkingState = Omit<EntryState, Plain> & { -readonly [K in Plain]: EntryState[K] } & {
  readonly requests: Request[];
  /** Fields whose value or linked record changed: what reads them has to be derived again. */
  readonly changed: Set<string>;
  /** Fields that changed in this event and that lines have not been told of yet. */
  readonly changedForLines: Set<string>;
  /** The maps that have been copied already. */
  readonly owned: Set<MapName>;
  readonly reducer: Reducer;
};

/** How a running form is opened and takes events: a line is an entry inside the entry that it belongs to. */
export interface Reducer {
  open(form: PreparedForm, opening: Opening): Step;
  reduce(state: EntryState, event: EntryEvent): Step;
}

export const workingStateOf = (state: EntryState, reducer: Reducer): WorkingState => ({
  ...state,
  reducer,
  requests: [],
  changed: new Set<string>(),
  changedForLines: new Set<string>(),
  owned: new Set<MapName>(),
});

/** Copies a map key by key into an object without prototype: with 500 keys, several times as fast as a spread. */
function copyMap(map: Readonly<Record<string | number, unknown>>): Record<string | number, unknown> {
  const copy = Object.create(null) as Record<string | number, unknown>;
  for (const key in map) copy[key] = map[key];
  return copy;
}

/** A map of the working state that may be changed: it is copied when it is asked for the first time. */
export function mutable<N extends MapName>(working: WorkingState, name: N): Opened<EntryState[N]> {
  if (!working.owned.has(name)) {
    Object.assign(working, { [name]: copyMap(working[name]) });
    working.owned.add(name);
  }
  return working[name] as Opened<EntryState[N]>;
}

/** Removes a key from a map of the working state, if it is there. */
export function drop(working: WorkingState, name: MapName, key: string | number): void {
  if (key in working[name]) delete (mutable(working, name) as Record<string | number, unknown>)[key];
}

const UNTOUCHED: FieldState = {};

/** What is known of a field, or of a subform, besides its value. */
export const fieldState = (state: Pick<EntryState, 'fields'>, id: string): FieldState => state.fields[id] ?? UNTOUCHED;

/** Changes what is known of a field; `undefined` removes a part. */
export function updateField(working: WorkingState, id: string, changes: FieldState): void {
  const before = fieldState(working, id);
  const same = (Object.keys(changes) as (keyof FieldState)[]).every((part) => before[part] === changes[part]);
  if (!same) mutable(working, 'fields')[id] = { ...before, ...changes };
}

export function stepOf(working: WorkingState): Step {
  const { requests, changed, changedForLines, owned, reducer, ...state } = working;
  return { state, requests };
}

export const fieldOf = (working: WorkingState | EntryState, id: string): PreparedField | undefined =>
  working.form.fields.get(id);

/** A request of a field without its number, which `ask` gives. */
type WithoutNumber<R> = R extends Question & { readonly field: FieldId } ? Omit<R, 'number'> : never;
type FieldQuestion = WithoutNumber<Question>;

/** Makes a request for a field. An earlier one of the same kind for the same field is outdated from then on. */
export function ask(working: WorkingState, request: FieldQuestion): void {
  working.requestsMade += 1;
  openRequestAs(working, request.kind, request.field, working.requestsMade);
  working.requests.push({ ...request, number: working.requestsMade } as Request);
}

/** Sends the save. */
export function askToSave(working: WorkingState, submission: Submission): void {
  working.requestsMade += 1;
  working.phase = { kind: 'saving', request: working.requestsMade };
  working.requests.push({ ...submission, kind: 'save', number: working.requestsMade });
}

/** The number of a deferred request: no answer has it. */
export const DEFERRED = 0;

/** Keeps a request open without sending it yet: whatever waits for answers waits for it as well. */
export function deferRequest(working: WorkingState, kind: FieldRequest, field: FieldId): void {
  openRequestAs(working, kind, field, DEFERRED);
}

function openRequestAs(working: WorkingState, kind: FieldRequest, field: FieldId, number: number): void {
  updateField(working, field, { requests: { ...fieldState(working, field).requests, [kind]: number } });
}

/** The number of the open request of a kind for a field; undefined when there is none. */
export const openRequest = (
  state: Pick<EntryState, 'fields'>,
  kind: FieldRequest,
  field: FieldId,
): number | undefined => fieldState(state, field).requests?.[kind];

/** The kinds of the open requests of a field. */
export const openRequests = (state: Pick<EntryState, 'fields'>, field: FieldId): readonly FieldRequest[] =>
  Object.keys(fieldState(state, field).requests ?? NO_REQUESTS) as FieldRequest[];

const NO_REQUESTS: NonNullable<FieldState['requests']> = {};

/** Closes the request of a kind for a field, if one is open: its answer is outdated. */
export function closeRequest(working: WorkingState, kind: FieldRequest, field: FieldId): void {
  if (openRequest(working, kind, field) === undefined) return;
  const { [kind]: _closed, ...left } = fieldState(working, field).requests ?? NO_REQUESTS;
  updateField(working, field, { requests: Object.keys(left).length > 0 ? left : undefined });
}

/** Closes the request that an answer belongs to. False when a newer request was made meanwhile. */
export function acceptAnswer(working: WorkingState, kind: FieldRequest, field: FieldId, number: number): boolean {
  if (openRequest(working, kind, field) !== number) return false;
  closeRequest(working, kind, field);
  return true;
}

/**
 * Sets a field and removes every message, offer and conflict about its former value; its origin stays. Requests about that
 * value no longer matter; if it comes back, it is propagated again.
 */
export function assign(working: WorkingState, id: string, value: Value, linked?: LinkedRecord): void {
  mutable(working, 'values')[id] = value;
  working.changed.add(id);
  const { propagated, requests } = fieldState(working, id);
  const isOutdated = openRequests(working, id).some((kind) => kind !== 'choices');
  updateField(working, id, {
    unparsed: undefined,
    notice: undefined,
    lookupFailure: undefined,
    offer: undefined,
    conflict: undefined,
    picked: undefined,
    propagated: isOutdated ? undefined : propagated,
    requests: requests?.choices === undefined ? undefined : { choices: requests.choices },
  });
  if (working.refusals.length > 0) working.refusals = working.refusals.filter((problem) => problem.path !== id);
  if (linked && !isBlank(value)) mutable(working, 'linked')[id] = linked;
  else drop(working, 'linked', id);
}

/** A field’s value as people read it; “…” for a link whose title is not known yet. */
export function showValue(
  state: EntryState | WorkingState,
  id: string,
  value: Value = state.values[id] ?? null,
): string {
  const field = fieldOf(state, id)?.field;
  if (!field || isBlank(value)) return '';
  if (isLinking(field)) return value === state.values[id] ? (state.linked[id]?.title ?? '…') : '…';
  return typeOf(field).format(value, field.settings);
}
