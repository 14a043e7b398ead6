import type { EntryAnswer, OpenPage } from '@fiche/core/api';
import {
  type Answered,
  answeredWords,
  enterUnsaved,
  isDirty,
  type Unsaved,
  unsavedOf,
  visibleProblems,
} from '@fiche/core/entry';
import type { PreparedForm } from '@fiche/core/forms';
import { say, sayCount } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { clsx } from 'clsx';
import { type ReactNode, type RefObject, type SyntheticEvent, useEffect, useMemo, useRef, useState } from 'react';
import { type Entry, EntryFields, focusFirstProblem, ProblemList, ReasonList, useEntry } from '../entry/index.ts';
import { useUploads } from '../inputs/index.ts';
import { Card, cardCss, FieldInput, textCss } from '../parts/index.ts';
import type { PageAddress } from './address.ts';
import { begin, lockedFields } from './begin.ts';
import { forgetAnswers, keptAnswers, useKeptAnswers } from './kept.ts';
import { findWork } from './proof.ts';
import publicPageCss from './publicPage.module.css';
import { StepHead } from './StepHead.tsx';
import { usePrefetch } from './usePrefetch.ts';
import { type Steps, useSteps } from './useSteps.ts';

/** What is entered when the page is opened in another language, to go on with there. */
export interface Carried {
  /** What is entered now, while there are questions. */
  read?(): Unsaved | undefined;
  /** What was entered in the language before; taken once. */
  answers?: Unsaved;
}

interface QuestionsProps {
  readonly page: OpenPage;
  readonly form: PreparedForm;
  readonly base: string;
  readonly address: PageAddress;
  readonly carried?: RefObject<Carried>;
  /** In the office: sending tries the draft, and nothing is kept. */
  readonly preview?: boolean;
  onSent(answer: EntryAnswer, answered: readonly Answered[]): void;
}

/** Within this time a slow phone has drawn the page, in ms. */
const DRAWN_MS = 1_500;

/** The questions of a page, whole or in steps, and the way to send what was answered. */
export function Questions(props: QuestionsProps) {
  const { page, address, preview = false } = props;
  const { page: own } = page.definition;
  const trap = useRef<HTMLInputElement>(null);
  const agreed = useRef(false);
  const { entry, kept, before, startOver } = useAnswering(props, trap, agreed);
  const steps = useSteps(entry, own?.steps === true, !preview, kept !== undefined || before !== undefined);
  usePrefetch(entry, steps?.at);
  const locked = useMemo(() => lockedFields(page, address), [page, address]);
  return (
    <SendForm
      page={page}
      entry={entry}
      steps={steps}
      onAgreed={(now) => {
        agreed.current = now;
      }}
    >
      {steps === undefined || steps.at === 0 ? (
        <>
          {own?.intro && <p className={publicPageCss.intro}>{own.intro}</p>}
          {page.received && (
            <p className={publicPageCss.intro} role="status">
              {say('This is your answer {reference}. Correct what is wrong, then send it again.', {
                reference: page.received.reference,
              })}
            </p>
          )}
        </>
      ) : null}
      {kept && !before && (
        <p className={publicPageCss.intro} role="status">
          {say('Your earlier answers are back.')}{' '}
          <Button variant="text" onClick={startOver}>
            {say('Start over')}
          </Button>
        </p>
      )}
      {/* A field that only programs see and fill. */}
      <div className={publicPageCss.trap} aria-hidden="true">
        <label htmlFor="page-website">{say('Leave this blank')}</label>
        <FieldInput id="page-website" inputRef={trap} name="website" tabIndex={-1} autoComplete="off" />
      </div>
      {steps && <StepHead steps={steps} />}
      <ProblemList entry={entry} items={steps?.isLast ? undefined : steps?.step.items} />
      <EntryFields entry={entry} narrow step={steps?.step.id} locked={locked} />
      {(steps === undefined || steps.isLast) && <ReasonList entry={entry} />}
    </SendForm>
  );
}

/** The answers of a page while they are given: what was kept in this tab, or answered in another language, comes back. */
function useAnswering(
  { page, form, base, address, carried, preview = false, onSent }: QuestionsProps,
  trap: RefObject<HTMLInputElement | null>,
  agreed: RefObject<boolean>,
) {
  const { slug } = address;
  const token = page.begun ?? '';
  // Begun while the person fills the page, so that nobody waits for it, and after it has been drawn.
  const work = useMemo(
    () => new Promise<void>((later) => setTimeout(later, DRAWN_MS)).then(() => findWork(token, page.workBits)),
    [token, page.workBits],
  );
  const received = page.received?.record;
  const opening = useMemo(
    () => ({
      account: null,
      now: civilNow(),
      record: received ?? null,
      ...(received?.lines ? { lines: received.lines } : {}),
    }),
    [received],
  );
  // What was kept of one personal link is not for another.
  const keptAs = `${slug} ${address.access['x-fiche-link'] ?? ''}`.trim();
  const [kept, setKept] = useState(() => (received || preview ? undefined : keptAnswers(keptAs)));
  const [before] = useState(() => carried?.current.answers);
  useEffect(() => {
    if (carried) carried.current.answers = undefined;
  }, [carried]);
  const answered = useRef<readonly Answered[]>([]);
  const entry = useEntry({
    form,
    opening,
    base,
    formVersion: page.version,
    ...(preview ? { as: 'public' } : {}),
    pageProof: async () => ({
      trap: trap.current?.value ?? '',
      work: await work,
      ...(agreed.current ? { agreed: true as const } : {}),
    }),
    start: (state) =>
      before
        ? enterUnsaved(state, before)
        : kept
          ? enterUnsaved(state, kept)
          : received
            ? { state, requests: [] }
            : begin(state, page, address),
    onSaved: (answer) => {
      if (!preview) forgetAnswers(keptAs);
      onSent(answer, answered.current);
    },
  });
  answered.current = answeredWords(entry.state);
  const now = useRef(entry.state);
  now.current = entry.state;
  useEffect(() => {
    if (!carried) return undefined;
    carried.current.read = () => (isDirty(now.current) ? unsavedOf(now.current) : undefined);
    return () => {
      carried.current.read = undefined;
    };
  }, [carried]);
  useKeptAnswers(keptAs, entry.state, received === undefined && !preview);
  const startOver = (): void => {
    setKept(undefined);
    entry.dispatch({ type: 'reset' });
  };
  return { entry, kept, before, startOver };
}

interface SendFormProps {
  readonly page: OpenPage;
  readonly entry: Entry;
  readonly steps: Steps | undefined;
  onAgreed(agreed: boolean): void;
  readonly children: ReactNode;
}

/** The card around the questions with what stands at its foot: consent, what stands against sending, back, next and send. */
function SendForm({ page, entry, steps, onAgreed, children }: SendFormProps) {
  const { page: own } = page.definition;
  const consent = page.received ? undefined : own?.consent;
  const [agrees, setAgrees] = useState(false);
  const [lacking, setLacking] = useState(false);
  const pressed = useRef(false);
  const uploads = useUploads();
  const sending = entry.state.phase.kind !== 'open' || uploads > 0;
  const goesOn = steps !== undefined && !steps.isLast;
  const open = visibleProblems(entry.state).length;
  const submit = (event: SyntheticEvent): void => {
    event.preventDefault();
    if (goesOn) {
      steps.next();
      return;
    }
    if (sending) return;
    if (consent !== undefined && !agrees) {
      setLacking(true);
      document.getElementById('page-consent')?.focus();
      return;
    }
    pressed.current = true;
    entry.dispatch({ type: 'savePressed' });
  };
  // What stands against sending is shown where it is: found at once, after open lookups, or by the server.
  useEffect(() => {
    if (!pressed.current || entry.state.phase.kind !== 'open') return;
    pressed.current = false;
    if (steps?.showFirstProblem() !== true) focusFirstProblem();
  });
  const send = own?.words?.send || say('Send');
  return (
    <form noValidate onSubmit={submit}>
      <Card title={page.label}>
        {children}
        {entry.trouble && (
          <p className={clsx(publicPageCss.intro, textCss.problem)} role="alert">
            {entry.trouble}
          </p>
        )}
        {consent !== undefined && !goesOn && (
          <div className={cardCss.section}>
            <p className={publicPageCss.consent}>{consent}</p>
            <FormControlLabel
              label={say('I agree')}
              control={
                <Checkbox
                  slotProps={{ input: { id: 'page-consent' } }}
                  checked={agrees}
                  onChange={(event) => {
                    setAgrees(event.target.checked);
                    setLacking(false);
                    onAgreed(event.target.checked);
                  }}
                />
              }
            />
            {lacking && (
              <p className={textCss.problem} role="alert">
                {say('Agree first: without it the answer cannot be sent.')}
              </p>
            )}
          </div>
        )}
        <div className={cardCss.foot}>
          {steps && steps.at > 0 && <Button onClick={steps.back}>{say('Back')}</Button>}
          <Button type="submit" variant="contained" disabled={sending && !goesOn}>
            {goesOn
              ? say('Next')
              : uploads > 0
                ? sayCount(uploads, 'Uploading one file…', 'Uploading {count} files…')
                : sending
                  ? say('Sending…')
                  : open > 0
                    ? sayCount(open, '{send}, {count} answer left', '{send}, {count} answers left', { send })
                    : send}
          </Button>
        </div>
      </Card>
    </form>
  );
}
