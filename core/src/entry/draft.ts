import { isBlank, type Value } from '../fields/index.ts';
import type { PreparedField, PreparedForm } from '../forms/index.ts';
import { typeOf } from '../tables/index.ts';
import type { EntryEvent, EntryState, Linked, Opening, Request, Step } from './state.ts';

type Opened<T> = T extends Readonly<Record<infer I, infer V>> ? Record<I, V> : never;

/** The maps of a state. An event copies those that it changes, so that the state before stays as it was. */
type MapName =
  | 'values'
  | 'settled'
  | 'unread'
  | 'linked'
  | 'origins'
  | 'hidden'
  | 'demanded'
  | 'broken'
  | 'reasons'
  | 'offers'
  | 'disputes'
  | 'several'
  | 'picked'
  | 'notices'
  | 'missed'
  | 'touched'
  | 'given'
  | 'choices'
  | 'waiting';
type Plain = 'requestsMade' | 'phase' | 'refusals' | 'original' | 'opening' | 'lines' | 'past' | 'linesMade';

/** A state while one event changes it. Its maps are read as they are, and changed through `own` and `drop`. */
export type Draft = Omit<EntryState, Plain> & { -readonly [K in Plain]: EntryState[K] } & {
  readonly requests: Request[];
  /** Fields whose value, or what is known of the record that they link to, changed: their readers are stale. */
  readonly moved: Set<string>;
  /** All that moved in this event so far and that lines have not been told yet. */
  readonly passed: Set<string>;
  /** The maps that are copies already. */
  readonly owned: Set<MapName>;
  readonly reducer: Reducer;
};

/** How a running form is opened and takes events: a line is an entry inside the entry that it belongs to. */
export interface Reducer {
  open(form: PreparedForm, opening: Opening): Step;
  reduce(state: EntryState, event: EntryEvent): Step;
}

export const draftOf = (state: EntryState, reducer: Reducer): Draft => ({
  ...state,
  reducer,
  requests: [],
  moved: new Set<string>(),
  passed: new Set<string>(),
  owned: new Set<MapName>(),
});

/** A copy of a map. Key by key into an object without prototype: of 500 keys, several times as quick as a spread. */
function copyOf(map: Readonly<Record<string | number, unknown>>): Record<string | number, unknown> {
  const copy = Object.create(null) as Record<string | number, unknown>;
  for (const key in map) copy[key] = map[key];
  return copy;
}

/** A map of the draft to change: copied from the state when it is first asked for. */
export function own<N extends MapName>(draft: Draft, name: N): Opened<EntryState[N]> {
  if (!draft.owned.has(name)) {
    Object.assign(draft, { [name]: copyOf(draft[name]) });
    draft.owned.add(name);
  }
  return draft[name] as Opened<EntryState[N]>;
}

/** Takes a key out of a map of the draft, if it is there. */
export function drop(draft: Draft, name: MapName, key: string | number): void {
  if (key in draft[name]) delete (own(draft, name) as Record<string | number, unknown>)[key];
}

export function stepOf(draft: Draft): Step {
  const { requests, moved, passed, owned, reducer, ...state } = draft;
  return { state, requests };
}

export const fieldOf = (draft: Draft | EntryState, id: string): PreparedField | undefined => draft.form.fields.get(id);

/** A request without its number, which `ask` gives. */
type WithoutNumber<R> = R extends Request ? Omit<R, 'number'> : never;
type Unnumbered = WithoutNumber<Request>;

/** Asks the world something. An earlier request of the same kind for the same field is outdated from here on. */
export function ask(draft: Draft, request: Unnumbered): void {
  draft.requestsMade += 1;
  own(draft, 'waiting')[slot(request)] = draft.requestsMade;
  draft.requests.push({ ...request, number: draft.requestsMade } as Request);
}

/** The number of a question that is held: no answer has it. */
export const HELD = 0;

/** Waits to ask until something else is known: everything that waits for answers waits for this, too. */
export function hold(draft: Draft, kind: Request['kind'], field: string): void {
  own(draft, 'waiting')[slot({ kind, field })] = HELD;
}

const slot = (request: { kind: string; field?: string }): string => `${request.kind}:${request.field ?? ''}`;

/** Takes an answer off the waiting list: true when it is the newest one asked for, false when it came too late. */
export function answers(draft: Draft, kind: Request['kind'], field: string, number: number): boolean {
  const key = slot({ kind, field });
  if (draft.waiting[key] !== number) return false;
  drop(draft, 'waiting', key);
  return true;
}

/** Sets a field and drops all that was said about its former value, but not where that came from. */
export function assign(draft: Draft, id: string, value: Value, linked?: Linked): void {
  own(draft, 'values')[id] = value;
  draft.moved.add(id);
  drop(draft, 'unread', id);
  drop(draft, 'notices', id);
  drop(draft, 'missed', id);
  drop(draft, 'offers', id);
  drop(draft, 'disputes', id);
  drop(draft, 'several', id);
  drop(draft, 'picked', id);
  if (draft.refusals.length > 0) draft.refusals = draft.refusals.filter((problem) => problem.path !== id);
  if (linked && !isBlank(value)) own(draft, 'linked')[id] = linked;
  else drop(draft, 'linked', id);
  // What was asked about the former value no longer matters; if that value comes back, it is settled anew.
  for (const kind of ['lookup', 'keyLookup', 'facts', 'check', 'only', 'match'] as const)
    if (slot({ kind, field: id }) in draft.waiting) {
      drop(draft, 'waiting', slot({ kind, field: id }));
      drop(draft, 'settled', id);
    }
}

/** How a field's present value reads to a person. */
export function showValue(state: EntryState | Draft, id: string, value: Value = state.values[id] ?? null): string {
  const field = fieldOf(state, id)?.field;
  if (!field || isBlank(value)) return '';
  if (field.type === 'link' || field.type === 'links')
    return value === state.values[id] ? (state.linked[id]?.title ?? '…') : '…';
  return typeOf(field).format(value, field.settings);
}
