import type { RunningForm } from '@fiche/core/api';
import { enterUnsaved, visibleProblems } from '@fiche/core/entry';
import { loadExpressions } from '@fiche/core/expressions';
import { loadPatterns } from '@fiche/core/fields';
import { type PreparedForm, prepareForm } from '@fiche/core/forms';
import { civilNow, type Office, setOffice } from '@fiche/core/office';
import type { TableDefinition } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { clsx } from 'clsx';
import { type SyntheticEvent, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { send } from '../client/index.ts';
import { EntryFields, focusFirstProblem, ProblemList, ReasonList, useEntry } from '../entry/index.ts';
import { useUploads } from '../inputs/index.ts';
import { Card, cardCss, FieldInput, textCss } from '../parts/index.ts';
import { forgetAnswers, keptAnswers, useKeptAnswers } from './kept.ts';
import { findWork } from './proof.ts';
import publicPageCss from './publicPage.module.css';

type Page = RunningForm & { readonly cabinet: string; readonly workBits: number; readonly office: Office };

/** A page that is ready to be filled: it writes as the office does, and the engines of patterns and of formulas are loaded for forms that have some. */
async function withEngines(page: Page): Promise<Page> {
  setOffice(page.office);
  const text = JSON.stringify([page.tables, page.definition]);
  const calculates = /"calculation":"|"kind":"(?:expression|calculation)"/.test(text);
  if (calculates) await loadExpressions();
  const has = /"pattern":|\bmatches\(|\bpattern\(/.test(text);
  if (has) await loadPatterns();
  return page;
}

/** A published form that needs no account: one column, the card alone. */
export function PublicPage({ slug }: { slug: string }) {
  const [page, setPage] = useState<Page>();
  const [trouble, setTrouble] = useState('');
  const base = `/api/public/${encodeURIComponent(slug)}`;
  const open = useCallback(
    (): Promise<void> =>
      send<Page>('GET', base)
        .then(withEngines)
        .then(setPage, (error: Error) => setTrouble(error.message)),
    [base],
  );
  useEffect(() => void open(), [open]);
  useEffect(() => {
    if (page) document.title = `${page.definition.label} · ${page.cabinet}`;
  }, [page]);
  if (trouble !== '')
    return (
      <main data-shown="public" className={publicPageCss.public}>
        <p className={publicPageCss.intro} role="alert">
          {trouble}
        </p>
      </main>
    );
  if (!page) return null;
  return (
    <>
      <div className={publicPageCss.band}>{page.cabinet}</div>
      <main data-shown="public" className={publicPageCss.public}>
        <Answering page={page} base={base} slug={slug} onAgain={open} />
      </main>
    </>
  );
}

interface AnsweringProps {
  readonly page: Page;
  readonly base: string;
  readonly slug: string;
  /** Opens the page anew, for one more answer. */
  onAgain(): Promise<void>;
}

function Answering({ page, base, slug, onAgain }: AnsweringProps) {
  const [round, setRound] = useState(0);
  const [reference, setReference] = useState<string>();
  const form = useMemo(
    () => prepareForm(page.definition, new Map(page.tables.map((table: TableDefinition) => [table.id, table]))),
    [page],
  );
  const { label, page: own } = page.definition;
  if (reference !== undefined)
    return (
      <Card title={label}>
        <div className={cardCss.section} role="status">
          <p>{own?.thanks}</p>
          <p style={{ marginTop: 12 }}>
            Your reference: <strong className={textCss.mono}>{reference}</strong>
          </p>
        </div>
        <div className={cardCss.foot}>
          <Button
            onClick={() =>
              void onAgain().then(() => {
                setReference(undefined);
                setRound(round + 1);
              })
            }
          >
            Fill in another
          </Button>
        </div>
      </Card>
    );
  return (
    <Questions
      key={round}
      form={form}
      version={page.version}
      token={page.begun ?? ''}
      workBits={page.workBits}
      base={base}
      slug={slug}
      intro={own?.intro ?? ''}
      onSent={(sent) => {
        forgetAnswers(slug);
        setReference(sent);
      }}
    />
  );
}

interface QuestionsProps {
  readonly form: PreparedForm;
  readonly version: number | null;
  /** The token of this opening of the page, and the work that the browser does with it. */
  readonly token: string;
  readonly workBits: number;
  readonly base: string;
  readonly slug: string;
  readonly intro: string;
  onSent(reference: string): void;
}

function Questions({ form, version, token, workBits, base, slug, intro, onSent }: QuestionsProps) {
  const trap = useRef<HTMLInputElement>(null);
  // Begun while the person fills the page, so that nobody waits for it.
  const work = useMemo(() => findWork(token, workBits), [token, workBits]);
  const opening = useMemo(() => ({ account: null, now: civilNow(), record: null }), []);
  const [kept, setKept] = useState(() => keptAnswers(slug));
  const entry = useEntry({
    form,
    opening,
    base,
    formVersion: version,
    pageProof: async () => ({ trap: trap.current?.value ?? '', work: await work }),
    start: kept && ((state) => enterUnsaved(state, kept)),
    onSaved: (answer) => onSent(answer.reference),
  });
  useKeptAnswers(slug, entry.state);
  const open = visibleProblems(entry.state).length;
  const uploads = useUploads();
  const sending = entry.state.phase.kind !== 'open' || uploads > 0;
  const submit = (event: SyntheticEvent): void => {
    event.preventDefault();
    if (sending) return;
    entry.dispatch({ type: 'savePressed' });
    requestAnimationFrame(() => {
      focusFirstProblem();
    });
  };
  return (
    <form noValidate onSubmit={submit}>
      <Card title={form.definition.label}>
        {intro !== '' && <p className={publicPageCss.intro}>{intro}</p>}
        {kept && (
          <p className={publicPageCss.intro} role="status">
            Your earlier answers are back.{' '}
            <Button
              variant="text"
              onClick={() => {
                setKept(undefined);
                entry.dispatch({ type: 'reset' });
              }}
            >
              Start over
            </Button>
          </p>
        )}
        {/* A field that only programs see and fill. */}
        <div className={publicPageCss.trap} aria-hidden="true">
          <label htmlFor="page-website">Leave this blank</label>
          <FieldInput id="page-website" inputRef={trap} name="website" tabIndex={-1} autoComplete="off" />
        </div>
        <ProblemList entry={entry} />
        <EntryFields entry={entry} narrow />
        <ReasonList entry={entry} />
        {entry.trouble && (
          <p className={clsx(publicPageCss.intro, textCss.problem)} role="alert">
            {entry.trouble}
          </p>
        )}
        <div className={cardCss.foot}>
          <Button type="submit" variant="contained" disabled={sending}>
            {uploads > 0
              ? `Uploading ${uploads === 1 ? 'one file' : `${uploads} files`}…`
              : sending
                ? 'Sending…'
                : open > 0
                  ? `Send, ${open} ${open === 1 ? 'answer' : 'answers'} left`
                  : 'Send'}
          </Button>
        </div>
      </Card>
    </form>
  );
}
