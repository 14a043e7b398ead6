import { isBlank, type Value } from '../fields/index.ts';
import type { PreparedField } from '../forms/index.ts';
import { typeOf } from '../tables/index.ts';
import type { Readable } from './scope.ts';
import type { EntryState, Linked, Request, Step } from './state.ts';

type Open<T> = { -readonly [K in keyof T]: T[K] extends Readonly<Record<string, infer V>> ? Record<string, V> : T[K] };

type OpenedMaps =
  | 'values'
  | 'settled'
  | 'unread'
  | 'linked'
  | 'origins'
  | 'notices'
  | 'missed'
  | 'touched'
  | 'given'
  | 'choices'
  | 'waiting';

/** A state while one event changes it: its maps are copies, so that the state before stays as it was. */
export type Draft = Omit<EntryState, OpenedMaps | 'requestsMade' | 'phase' | 'refusals'> &
  Open<Pick<EntryState, OpenedMaps | 'requestsMade' | 'phase' | 'refusals'>> & { readonly requests: Request[] };

export function draftOf(state: EntryState): Draft {
  return {
    ...state,
    values: { ...state.values },
    settled: { ...state.settled },
    unread: { ...state.unread },
    linked: { ...state.linked },
    origins: { ...state.origins },
    notices: { ...state.notices },
    missed: { ...state.missed },
    touched: { ...state.touched },
    given: { ...state.given },
    choices: { ...state.choices },
    waiting: { ...state.waiting },
    requests: [],
  };
}

export function stepOf(draft: Draft): Step {
  const { requests, ...state } = draft;
  return { state, requests };
}

export const readable = (draft: Draft | EntryState): Readable => ({
  form: draft.form,
  account: draft.opening.account,
  values: draft.values,
  linked: draft.linked,
});

export const fieldOf = (draft: Draft | EntryState, id: string): PreparedField | undefined => draft.form.fields.get(id);

/** A request without its number, which `ask` gives. */
type WithoutNumber<R> = R extends Request ? Omit<R, 'number'> : never;
type Unnumbered = WithoutNumber<Request>;

/** Asks the world something. An earlier request of the same kind for the same field is outdated from here on. */
export function ask(draft: Draft, request: Unnumbered): void {
  draft.requestsMade += 1;
  draft.waiting[slot(request)] = draft.requestsMade;
  draft.requests.push({ ...request, number: draft.requestsMade } as Request);
}

const slot = (request: { kind: string; field?: string }): string => `${request.kind}:${request.field ?? ''}`;

/** Takes an answer off the waiting list: true when it is the newest one asked for, false when it came too late. */
export function answers(draft: Draft, kind: Request['kind'], field: string, number: number): boolean {
  const key = slot({ kind, field });
  if (draft.waiting[key] !== number) return false;
  delete draft.waiting[key];
  return true;
}

/** Sets a field and drops all that was said about its former value. */
export function assign(draft: Draft, id: string, value: Value, linked?: Linked): void {
  draft.values[id] = value;
  delete draft.unread[id];
  delete draft.notices[id];
  delete draft.missed[id];
  delete draft.origins[id];
  draft.refusals = draft.refusals.filter((problem) => problem.path !== id);
  if (linked && !isBlank(value)) draft.linked[id] = linked;
  else delete draft.linked[id];
  // What was asked about the former value no longer matters; if that value comes back, it is settled anew.
  for (const kind of ['lookup', 'keyLookup', 'check'] as const)
    if (slot({ kind, field: id }) in draft.waiting) {
      delete draft.waiting[slot({ kind, field: id })];
      delete draft.settled[id];
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
