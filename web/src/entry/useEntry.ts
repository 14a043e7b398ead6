import type { EntryAnswer, PageProof, RecordView, SeveralRecords } from '@fiche/core/api';
import {
  type AnswerSource,
  answerQuestion,
  type ChoiceList,
  type EntryEvent,
  type EntryState,
  effectiveValues,
  type FoundRecord,
  type Opening,
  openEntry,
  type Request,
  readable,
  reduceEntry,
  type Step,
  splitPath,
} from '@fiche/core/entry';
import type { Value, Values } from '@fiche/core/fields';
import type { PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { FieldId, RecordId } from '@fiche/core/tables';
import { type RefObject, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { NoConnection, ServerProblem, send } from '../client/index.ts';

interface EntryOptions {
  readonly form: PreparedForm;
  readonly opening: Opening;
  /** Where this form runs: `/api/forms/…`, `/api/tables/…`, `/api/public/…`. */
  readonly base: string;
  readonly formVersion?: number | null;
  /** On a public page: what tells the server that a person sends. */
  readonly pageProof?: () => Promise<PageProof>;
  /** In the form editor: the role as which a draft is tried, or `public`. */
  readonly as?: string;
  /** What it begins with besides: unsaved work that is taken up, a copy, values kept from the card before. */
  start?(opened: EntryState): Step;
  /** Its lines are records of the form itself: what they ask is asked as a card asks it. */
  readonly plainLines?: boolean;
  onSaved(answer: EntryAnswer): void;
}

export interface Entry {
  readonly state: EntryState;
  /** Why the last save did not go through, where no field is to blame. */
  readonly trouble?: string;
  /** How many saves the server has refused so far. */
  readonly refusals: number;
  /** The record as somebody else has saved it while it was open here. */
  readonly remote?: RecordView;
  /** The records that the last save found several of, one of which is to be chosen. */
  readonly several?: SeveralRecords;
  /** Where it runs and which version: what a question of its own needs. */
  readonly runs: Pick<EntryOptions, 'base' | 'formVersion'>;
  dispatch(event: EntryEvent): void;
  replace(step: Step): void;
  /** What an event would come to, its questions answered, without anything being done; and the way to do it. */
  tryOut(event: EntryEvent): Promise<{ readonly state: EntryState; take(): void }>;
  /** Merges what somebody else has saved into the entry. */
  mergeRemote(current: RecordView): void;
  /** Which of several records is meant, for the next save. */
  chooseRecord(destination: string, record: RecordId): void;
}

/** Runs the core's reducer under React and carries its requests out over HTTP. */
export function useEntry(options: EntryOptions): Entry {
  const latest = useRef(options);
  useEffect(() => {
    latest.current = options;
  });
  const [first] = useState(() => begin(options));
  const now = useRef(first.state);
  const [state, setState] = useState(first.state);
  const [trouble, setTrouble] = useState<string>();
  const [remote, setRemote] = useState<RecordView>();
  const [refusals, setRefusals] = useState(0);
  const [several, setSeveral] = useState<SeveralRecords>();
  const meant = useRef<Readonly<Record<string, RecordId>>>({});
  const keys = useRef({ body: '', key: '' });
  const looking = useRef(new Map<string, AbortController>());

  const run = useRef<(request: Request) => Promise<void>>(async () => undefined);
  const replace = useCallback((step: Step): void => {
    now.current = step.state;
    setState(step.state);
    for (const request of step.requests) void run.current(request);
  }, []);
  const dispatch = useCallback((event: EntryEvent): void => replace(reduceEntry(now.current, event)), [replace]);
  const mergeRemote = useCallback(
    (current: RecordView): void => {
      setRemote(current);
      dispatch({ type: 'remoteSaved', record: current, lines: current.lines, by: lastBy(current) });
    },
    [dispatch],
  );

  const carry = useCallback(
    async (request: Request): Promise<void> => {
      const signal = request.kind === 'choices' ? instead(looking.current, request) : undefined;
      try {
        if (request.kind === 'save') {
          setTrouble(undefined);
          setSeveral(undefined);
          const sending = () => save(request, now.current, latest.current, meant.current, keys.current);
          const answer = await withRetry(sending, setTrouble);
          meant.current = {};
          setTrouble(undefined);
          latest.current.onSaved(answer);
          return;
        }
        const event = await ask(latest.current, request, enclosingToSend(now.current, request), signal);
        dispatch(event);
      } catch (error) {
        // Somebody typed on: the question that came after it is answered.
        if (signal?.aborted) return;
        if (request.kind === 'save' && error instanceof ServerProblem) {
          const { placed, trouble, current, several } = readRefusal(error, now.current);
          setSeveral(several);
          if (trouble !== undefined) setTrouble(trouble);
          dispatch({ type: 'refused', problems: placed });
          setRefusals((count) => count + 1);
          if (current) mergeRemote(current);
          return;
        }
        if (error instanceof NoConnection || request.kind === 'save') setTrouble((error as Error).message);
        const { kind, number, line } = request;
        dispatch(
          kind === 'save'
            ? { type: 'saveFailed', number }
            : inLine(line, { type: 'failed', kind, number, field: request.field }),
        );
      }
    },
    [dispatch, mergeRemote],
  );

  useEffect(() => {
    run.current = carry;
    for (const request of first.requests) void carry(request);
  }, [first, carry]);

  const tryOut = useTryOut(latest, now, replace);
  const { base, formVersion } = options;
  const runs = useMemo(() => ({ base, formVersion }), [base, formVersion]);
  const chooseRecord = useCallback((destination: string, record: RecordId): void => {
    meant.current = { ...meant.current, [destination]: record };
  }, []);
  return { state, trouble, refusals, remote, several, runs, dispatch, replace, tryOut, mergeRemote, chooseRecord };
}

/** Tries an event on the entry as it is now: see `Entry.tryOut`. */
function useTryOut(
  options: RefObject<EntryOptions>,
  now: RefObject<EntryState>,
  replace: (step: Step) => void,
): Entry['tryOut'] {
  return useCallback(
    async (event) => {
      const from = now.current;
      const tried = await settled(reduceEntry(from, event), (request, state) =>
        ask(options.current, request, enclosingToSend(state, request)),
      );
      return {
        state: tried,
        take: (): void => {
          // Where something happened meanwhile, the event is applied to what is there now. Otherwise the open requests are
          // sent again: their answers would belong to a state that is gone.
          if (now.current !== from) replace(reduceEntry(now.current, event));
          else replace(reduceEntry(tried, { type: 'requestsResent' }));
        },
      };
    },
    [options, now, replace],
  );
}

/** The state after a step whose questions, and all that their answers ask in turn, have been answered. Saves are not sent. */
async function settled(
  first: Step,
  answer: (request: Exclude<Request, { kind: 'save' }>, state: EntryState) => Promise<EntryEvent>,
): Promise<EntryState> {
  let { state } = first;
  for (let open = first.requests; open.length > 0; ) {
    const asked = state;
    const events = await Promise.all(open.flatMap((one) => (one.kind === 'save' ? [] : [answer(one, asked)])));
    const next: Request[] = [];
    for (const event of events) {
      const step = reduceEntry(state, event);
      state = step.state;
      next.push(...step.requests);
    }
    open = next;
  }
  return state;
}

/** What a refused save says: the problems at their fields, what is said above the card, and the record as it is now. */
function readRefusal({ document }: ServerProblem, { form }: EntryState) {
  const { errors, detail, current, status, several } = document;
  if (several) return { placed: [], several };
  const outdated = status === 409;
  const placed = errors.filter(
    ({ path }) => form.fields.has(path) || form.subforms.has(path) || splitPath(path) !== undefined,
  );
  return {
    placed: outdated ? [] : placed,
    trouble: placed.length === 0 || outdated ? detail : undefined,
    current: outdated ? (current as RecordView | undefined) : undefined,
  };
}

/** Who saved a record or one of its lines last. */
export const lastBy = (record: RecordView): string =>
  [record, ...Object.values(record.lines ?? {}).flat()].reduce((last, one) =>
    one.stamp.changedAt > last.stamp.changedAt ? one : last,
  ).stamp.changedBy;

function begin({ form, opening, start }: EntryOptions): Step {
  const opened = openEntry(form, opening);
  if (!start) return opened;
  const step = start(opened.state);
  return { state: step.state, requests: [...opened.requests, ...step.requests] };
}

/** How long is waited before each further try of a save that got no answer. */
const WAITS_MS = [500, 1_000, 2_000, 4_000, 8_000, 8_000, 8_000];

/** Sends a save again, under its same key, until there is an answer or patience ends. */
async function withRetry(
  sending: () => Promise<EntryAnswer>,
  tell: (words: string | undefined) => void,
): Promise<EntryAnswer> {
  for (const wait of WAITS_MS)
    try {
      return await sending();
    } catch (error) {
      if (!(error instanceof NoConnection)) throw error;
      tell(say('The server cannot be reached. What you typed is still here; trying again…'));
      await new Promise((later) => setTimeout(later, wait));
    }
  return sending();
}

/** Takes back the question for the choices of a dropdown that a newer one makes needless. Returns the signal of the new one. */
function instead(looking: Map<string, AbortController>, request: Exclude<Request, { kind: 'save' }>): AbortSignal {
  const key = JSON.stringify([request.line, request.field]);
  looking.get(key)?.abort();
  const mine = new AbortController();
  looking.set(key, mine);
  return mine.signal;
}

/** An event of a line, as the entry around it is told. */
const inLine = (line: Request['line'], event: EntryEvent): EntryEvent => (line ? { type: 'line', line, event } : event);

/** What a question of a line says of the record around it. */
const enclosingToSend = (state: EntryState, { line }: Request) =>
  line && { subform: line.subform, values: effectiveValues(readable(state)) };

/** The same question is asked once, however many lines ask it: pasted cells, above all. */
const asked = new Map<string, Promise<unknown>>();
function askOnce<T>(url: string, body: object): Promise<T> {
  const key = `${url} ${JSON.stringify(body)}`;
  const before = asked.get(key) as Promise<T> | undefined;
  if (before) return before;
  const answer = send<T>('POST', url, body);
  asked.set(key, answer);
  const forget = (): void => {
    asked.delete(key);
  };
  answer.then(() => setTimeout(forget, 2_000), forget);
  return answer;
}

/** Answers a question over HTTP; `signal` takes it back. */
async function ask(
  options: EntryOptions,
  request: Exclude<Request, { kind: 'save' }>,
  within: Within | undefined,
  signal?: AbortSignal,
): Promise<EntryEvent> {
  const source = sourceOver(options, options.plainLines ? undefined : within, signal);
  return inLine(request.line, await answerQuestion(request, source));
}

/** What a question of a line says of the record around it. */
interface Within {
  readonly subform: string;
  readonly values: Values;
}

/** The server as a running form asks it. */
function sourceOver(
  { base, formVersion: version }: EntryOptions,
  within: Within | undefined,
  signal: AbortSignal | undefined,
): AnswerSource {
  const formVersion = version ?? undefined;
  const find = (wanted: { field: FieldId; id: number } | { field: FieldId; key: Value }) =>
    askOnce<{ found: FoundRecord[] }>(`${base}/lookups`, { formVersion, subform: within?.subform, ...wanted }).then(
      ({ found }) => found,
    );
  return {
    choices(field, values, search, limit) {
      const body = { field, formVersion, within, values, search: search.slice(0, 200), limit };
      return signal
        ? send<ChoiceList>('POST', `${base}/choices`, body, {}, signal)
        : askOnce<ChoiceList>(`${base}/choices`, body);
    },
    fits: (field, values) =>
      send<{ fits: boolean }>('POST', `${base}/checks`, { field, formVersion, within, values }).then(
        ({ fits }) => fits,
      ),
    byId: (field, id) => find({ field, id }),
    byKey: (field, key) => find({ field, key }),
  };
}

/** The same values keep their idempotency key, so that a second sending never makes a second record. */
async function save(
  request: Extract<Request, { kind: 'save' }>,
  state: EntryState,
  options: EntryOptions,
  meant: Readonly<Record<string, RecordId>>,
  keys: { body: string; key: string },
): Promise<EntryAnswer> {
  const { record } = state.opening;
  const body = {
    values: request.values,
    ...(Object.keys(request.reasons).length > 0 ? { reasons: request.reasons } : {}),
    ...(Object.keys(request.picked).length > 0 ? { picked: request.picked } : {}),
    ...(Object.keys(meant).length > 0 ? { meant } : {}),
    ...(Object.keys(request.lines).length > 0 ? { lines: request.lines } : {}),
    ...(record ? { record: record.id, version: record.version } : {}),
    ...(options.formVersion ? { formVersion: options.formVersion } : {}),
    ...(options.as ? { as: options.as } : {}),
    ...(options.pageProof ? { page: await options.pageProof() } : {}),
  };
  const text = JSON.stringify(body);
  if (keys.body !== text) Object.assign(keys, { body: text, key: crypto.randomUUID() });
  return send<EntryAnswer>('POST', `${options.base}/entries`, body, { 'idempotency-key': keys.key });
}
