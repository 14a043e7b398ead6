import type { RunningForm } from '@fiche/core/api';
import { takeUp, visibleProblems } from '@fiche/core/entry';
import { type PreparedForm, prepareForm } from '@fiche/core/forms';
import type { TableDefinition } from '@fiche/core/tables';
import { type SyntheticEvent, useEffect, useMemo, useState } from 'react';
import { send } from '../client/index.ts';
import { civilNow, EntryFields, focusFirstProblem, ProblemList, ReasonList, useEntry } from '../entry/index.ts';
import { useUploads } from '../inputs/index.ts';
import { Card } from '../parts/index.ts';
import { forgetAnswers, keptAnswers, useKeptAnswers } from './kept.ts';

type Page = RunningForm & { readonly cabinet: string };

/** A published form that needs no account: one column, the card alone. */
export function PublicPage({ slug }: { slug: string }) {
  const [page, setPage] = useState<Page>();
  const [trouble, setTrouble] = useState('');
  const base = `/api/public/${encodeURIComponent(slug)}`;
  useEffect(() => {
    send<Page>('GET', base).then(setPage, (error: Error) => setTrouble(error.message));
  }, [base]);
  useEffect(() => {
    if (page) document.title = `${page.definition.label} · ${page.cabinet}`;
  }, [page]);
  if (trouble !== '')
    return (
      <main className="public">
        <p className="intro" role="alert">
          {trouble}
        </p>
      </main>
    );
  if (!page) return null;
  return (
    <>
      <div className="public-band">{page.cabinet}</div>
      <main className="public">
        <Answering page={page} base={base} slug={slug} />
      </main>
    </>
  );
}

function Answering({ page, base, slug }: { page: Page; base: string; slug: string }) {
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
        <div className="card-section" role="status">
          <p>{own?.thanks}</p>
          <p style={{ marginTop: 12 }}>
            Your reference: <strong className="mono">{reference}</strong>
          </p>
        </div>
        <div className="card-foot">
          <button
            type="button"
            className="button"
            onClick={() => {
              setReference(undefined);
              setRound(round + 1);
            }}
          >
            Fill in another
          </button>
        </div>
      </Card>
    );
  return (
    <Questions
      key={round}
      form={form}
      version={page.version}
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
  readonly base: string;
  readonly slug: string;
  readonly intro: string;
  onSent(reference: string): void;
}

function Questions({ form, version, base, slug, intro, onSent }: QuestionsProps) {
  const opening = useMemo(() => ({ account: null, now: civilNow(), record: null }), []);
  const [kept, setKept] = useState(() => keptAnswers(slug));
  const entry = useEntry({
    form,
    opening,
    base,
    formVersion: version,
    start: kept && ((state) => takeUp(state, kept)),
    onSaved: (answer) => onSent(answer.reference),
  });
  useKeptAnswers(slug, entry.state);
  const open = visibleProblems(entry.state).length;
  const uploads = useUploads();
  const sending = entry.state.phase !== 'open' || uploads > 0;
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
        {intro !== '' && <p className="intro">{intro}</p>}
        {kept && (
          <p className="intro" role="status">
            What you entered here before is back.{' '}
            <button
              type="button"
              className="link"
              onClick={() => {
                setKept(undefined);
                entry.dispatch({ type: 'reset' });
              }}
            >
              Begin anew
            </button>
          </p>
        )}
        <ProblemList entry={entry} />
        <EntryFields entry={entry} narrow />
        <ReasonList entry={entry} />
        {entry.trouble && (
          <p className="intro ruled-problem" role="alert">
            {entry.trouble}
          </p>
        )}
        <div className="card-foot">
          <button type="submit" className="button main" disabled={sending}>
            {uploads > 0
              ? `${uploads === 1 ? 'One file' : `${uploads} files`} on the way…`
              : sending
                ? 'Sending…'
                : open > 0
                  ? `Send, ${open} ${open === 1 ? 'answer' : 'answers'} left`
                  : 'Send'}
          </button>
        </div>
      </Card>
    </form>
  );
}
