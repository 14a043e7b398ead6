import type { EntryAnswer, RecordView } from '@fiche/core/api';
import {
  type EntryEvent,
  type EntryState,
  type Found,
  type Opening,
  openEntry,
  type Request,
  reduceEntry,
  type Step,
} from '@fiche/core/entry';
import type { PreparedForm } from '@fiche/core/forms';
import type { Choice } from '@fiche/core/narrowing';
import { useCallback, useEffect, useRef, useState } from 'react';
import { NoConnection, ServerProblem, send } from '../client/index.ts';

/** Civil date and time here, to the minute: what `today` and `now` mean in a default. */
export function civilNow(): string {
  const now = new Date();
  return new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}

export interface EntryOptions {
  readonly form: PreparedForm;
  readonly opening: Opening;
  /** Where this form runs: `/api/forms/…`, `/api/tables/…`, `/api/public/…`. */
  readonly base: string;
  readonly formVersion?: number | null;
  /** In the Studio: the role as which a draft is tried, or `public`. */
  readonly as?: string;
  onSaved(answer: EntryAnswer): void;
}

/** Somebody else saved the record while it was open here. */
export interface Conflict {
  readonly detail: string;
  readonly current: RecordView;
}

export interface Entry {
  readonly state: EntryState;
  /** Why the last save did not go through, where no field is to blame. */
  readonly trouble?: string;
  readonly conflict?: Conflict;
  dispatch(event: EntryEvent): void;
  replace(step: Step): void;
}

/** Runs the core's reducer under React and carries its requests out over HTTP. */
export function useEntry(options: EntryOptions): Entry {
  const latest = useRef(options);
  useEffect(() => {
    latest.current = options;
  });
  const [first] = useState(() => openEntry(options.form, options.opening));
  const now = useRef(first.state);
  const [state, setState] = useState(first.state);
  const [trouble, setTrouble] = useState<string>();
  const [conflict, setConflict] = useState<Conflict>();
  const keys = useRef({ body: '', key: '' });

  const run = useRef<(request: Request) => Promise<void>>(async () => undefined);
  const dispatch = useCallback((event: EntryEvent): void => {
    const step = reduceEntry(now.current, event);
    now.current = step.state;
    setState(step.state);
    for (const request of step.requests) void run.current(request);
  }, []);

  const carry = useCallback(
    async (request: Request): Promise<void> => {
      try {
        if (request.kind === 'save') {
          setTrouble(undefined);
          setConflict(undefined);
          latest.current.onSaved(await save(request, now.current, latest.current, keys.current));
          return;
        }
        dispatch(await ask(latest.current, request));
      } catch (error) {
        if (request.kind === 'save' && error instanceof ServerProblem) {
          const { errors, detail, current, status } = error.document;
          const placed = errors.filter((problem) => now.current.form.fields.has(problem.path));
          if (status === 409 && current) setConflict({ detail, current: current as RecordView });
          else if (placed.length === 0) setTrouble(detail);
          dispatch({ type: 'refused', problems: status === 409 ? [] : placed });
          return;
        }
        if (error instanceof NoConnection || request.kind === 'save') setTrouble((error as Error).message);
        dispatch({
          type: 'failed',
          kind: request.kind,
          number: request.number,
          field: 'field' in request ? request.field : '',
        });
      }
    },
    [dispatch],
  );

  useEffect(() => {
    run.current = carry;
    for (const request of first.requests) void carry(request);
  }, [first, carry]);

  const replace = useCallback((next: Step): void => {
    now.current = next.state;
    setState(next.state);
    for (const request of next.requests) void run.current(request);
  }, []);

  return { state, trouble, conflict, dispatch, replace };
}

async function ask(
  { base, formVersion: version }: EntryOptions,
  request: Exclude<Request, { kind: 'save' }>,
): Promise<EntryEvent> {
  const { field, number } = request;
  const formVersion = version ?? undefined;
  switch (request.kind) {
    case 'choices': {
      const answer = await send<{ choices: Choice[]; more: boolean }>('POST', `${base}/choices`, {
        field,
        formVersion,
        values: request.values,
        search: request.search,
      });
      return { type: 'choicesArrived', field, number, ...answer };
    }
    case 'check': {
      const { fits } = await send<{ fits: boolean }>('POST', `${base}/checks`, {
        field,
        formVersion,
        values: request.values,
      });
      return { type: 'checked', field, number, fits };
    }
    case 'only': {
      const { choices } = await send<{ choices: Choice[] }>('POST', `${base}/choices`, {
        field,
        formVersion,
        values: request.values,
        limit: 2,
      });
      return { type: 'onlyChoice', field, number, choice: choices.length === 1 ? (choices[0] ?? null) : null };
    }
    case 'lookup':
    case 'facts':
    case 'keyLookup': {
      const asked = request.kind === 'keyLookup' ? { key: request.key } : { id: request.id };
      const body = { field, formVersion, ...asked };
      const { found } = await send<{ found: Found[] }>('POST', `${base}/lookups`, body);
      return { type: 'found', kind: request.kind, field, number, found };
    }
  }
}

/** The same values keep their idempotency key, so that a second sending never makes a second record. */
async function save(
  request: Extract<Request, { kind: 'save' }>,
  state: EntryState,
  options: EntryOptions,
  keys: { body: string; key: string },
): Promise<EntryAnswer> {
  const { record } = state.opening;
  const body = {
    values: request.values,
    ...(Object.keys(request.reasons).length > 0 ? { reasons: request.reasons } : {}),
    ...(Object.keys(request.picked).length > 0 ? { picked: request.picked } : {}),
    ...(record ? { record: record.id, version: record.version } : {}),
    ...(options.formVersion ? { formVersion: options.formVersion } : {}),
    ...(options.as ? { as: options.as } : {}),
  };
  const text = JSON.stringify(body);
  if (keys.body !== text) Object.assign(keys, { body: text, key: crypto.randomUUID() });
  return send<EntryAnswer>('POST', `${options.base}/entries`, body, { 'idempotency-key': keys.key });
}
