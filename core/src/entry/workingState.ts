import { isBlank, isLinking, type Value } from '../fields/index.ts';
import type { PreparedField, PreparedForm } from '../forms/index.ts';
import { typeOf } from '../tables/index.ts';
import type { EntryEvent, EntryState, LinkedRecord, Opening, Request, Step } from './state.ts';

type Opened<T> = T extends Readonly<Record<infer I, infer V>> ? Record<I, V> : never;

/** The maps of an `EntryState`. An event copies those that it changes, so that the state before it stays unchanged. */
type MapName =
  | 'values'
  | 'propagated'
  | 'unparsed'
  | 'linked'
  | 'origins'
  | 'hidden'
  | 'conditionallyRequired'
  | 'broken'
  | 'reasons'
  | 'offers'
  | 'conflicts'
  | 'ambiguousMatches'
  | 'picked'
  | 'notices'
  | 'lookupFailures'
  | 'touched'
  | 'submitted'
  | 'choices';
type Plain =
  | 'waiting'
  | 'requestsMade'
  | 'phase'
  | 'refusals'
  | 'original'
  | 'opening'
  | 'lines'
  | 'past'
  | 'linesMade';

/** An `EntryState` while one event is applied to it. Its maps are read directly, and changed through `mutable` and `drop`. */
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

export function stepOf(working: WorkingState): Step {
  const { requests, changed, changedForLines, owned, reducer, ...state } = working;
  return { state, requests };
}

export const fieldOf = (working: WorkingState | EntryState, id: string): PreparedField | undefined =>
  working.form.fields.get(id);

/** A request without its number, which `ask` gives. */
type WithoutNumber<R> = R extends Request ? Omit<R, 'number'> : never;
type Unnumbered = WithoutNumber<Request>;

/** Makes a request. An earlier request of the same kind for the same field is outdated from then on. */
export function ask(working: WorkingState, request: Unnumbered): void {
  working.requestsMade += 1;
  open(working, request.kind, 'field' in request ? request.field : '', working.requestsMade);
  working.requests.push({ ...request, number: working.requestsMade } as Request);
}

/** The number of a deferred request: no answer has it. */
export const DEFERRED = 0;

/** Keeps a request open without sending it yet: whatever waits for answers waits for it as well. */
export function deferRequest(working: WorkingState, kind: Request['kind'], field: string): void {
  open(working, kind, field, DEFERRED);
}

function open(working: WorkingState, kind: Request['kind'], field: string, number: number): void {
  working.waiting = { ...working.waiting, [kind]: { ...working.waiting[kind], [field]: number } };
}

/** The number of the open request of a kind for a field; undefined when there is none. */
export const openRequest = (
  { waiting }: Pick<EntryState, 'waiting'>,
  kind: Request['kind'],
  field: string,
): number | undefined => waiting[kind]?.[field];

/** Closes the request of a kind for a field, if one is open: its answer is outdated. */
export function closeRequest(working: WorkingState, kind: Request['kind'], field: string): void {
  if (openRequest(working, kind, field) === undefined) return;
  const { [kind]: ofKind, ...others } = working.waiting;
  const { [field]: _closed, ...left } = ofKind ?? {};
  working.waiting = Object.keys(left).length > 0 ? { ...others, [kind]: left } : others;
}

/** Closes the request that an answer belongs to. False when a newer request was made meanwhile. */
export function acceptAnswer(working: WorkingState, kind: Request['kind'], field: string, number: number): boolean {
  if (openRequest(working, kind, field) !== number) return false;
  closeRequest(working, kind, field);
  return true;
}

/** Sets a field and removes every message, offer and conflict about its former value; its origin stays. */
export function assign(working: WorkingState, id: string, value: Value, linked?: LinkedRecord): void {
  mutable(working, 'values')[id] = value;
  working.changed.add(id);
  drop(working, 'unparsed', id);
  drop(working, 'notices', id);
  drop(working, 'lookupFailures', id);
  drop(working, 'offers', id);
  drop(working, 'conflicts', id);
  drop(working, 'ambiguousMatches', id);
  drop(working, 'picked', id);
  if (working.refusals.length > 0) working.refusals = working.refusals.filter((problem) => problem.path !== id);
  if (linked && !isBlank(value)) mutable(working, 'linked')[id] = linked;
  else drop(working, 'linked', id);
  // Requests about the former value no longer matter; if that value comes back, it is propagated again.
  for (const kind of ['lookup', 'keyLookup', 'facts', 'check', 'only', 'match'] as const)
    if (openRequest(working, kind, id) !== undefined) {
      closeRequest(working, kind, id);
      drop(working, 'propagated', id);
    }
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
