import type { EntryAnswer, LineView, RecordView } from '@fiche/core/api';
import { visibleProblems } from '@fiche/core/entry';
import type { PreparedForm } from '@fiche/core/forms';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import {
  civilNow,
  dropdownAt,
  EntryFields,
  enterMovesOn,
  focusField,
  focusFirstProblem,
  hasUnsavedWork,
  ProblemList,
  ReasonList,
  useEntry,
  WhySheet,
} from '../entry/index.ts';
import { Card, LedgerLine, Sheet, Stamp, useSay, Waiting } from '../parts/index.ts';
import { ConflictNote } from './ConflictNote.tsx';
import { EraseRecord } from './EraseRecord.tsx';
import { LinkingRecords } from './LinkingRecords.tsx';
import { useLeaving } from './leaving.ts';

export type PlacedRecord = RecordView & {
  readonly place: { position: number; total: number; previous: number | null; next: number | null };
};

export interface CardPageProps {
  readonly form: PreparedForm;
  readonly version: number | null;
  /** Where the form runs, and where its cards live on the page's own address. */
  readonly base: string;
  readonly path: string;
  /** The form’s id, where it is not a table’s own card: its lines are read with a record. */
  readonly formId?: string;
  /** The record to change; a blank card without. */
  readonly record?: string;
}

/** One card at a time: enter, correct, archive, go to the next, look at the history. */
export function CardPage(props: CardPageProps) {
  const { record, form, formId, version } = props;
  const reads = formId === undefined ? '' : `?form=${formId}${version === null ? '' : `&version=${version}`}`;
  const query = useQuery({
    queryKey: ['record', form.table.id, record],
    queryFn: () => send<PlacedRecord>('GET', `/api/tables/${form.table.id}/records/${record}${reads}`),
    enabled: record !== undefined,
    staleTime: 0,
    // A card is always opened as it is now, never as it was when last looked at.
    gcTime: 0,
  });
  const [round, setRound] = useState(0);
  const [historyOpen, setHistoryOpen] = useState(false);
  const history = { historyOpen, setHistoryOpen };
  if (record === undefined)
    return <FilledCard key={`new-${round}`} {...props} onAnother={() => setRound(round + 1)} {...history} />;
  if (query.isError)
    return (
      <p className="empty" role="alert">
        {query.error.message}
      </p>
    );
  if (!query.data) return <Waiting what="Fetching the card…" />;
  return (
    <FilledCard
      key={`${record}-${query.data.version}-${query.dataUpdatedAt}`}
      {...props}
      opened={query.data}
      onAnother={() => undefined}
      {...history}
    />
  );
}

interface FilledCardProps {
  readonly opened?: PlacedRecord;
  /** The history sheet stays open from one card to the next. */
  readonly historyOpen: boolean;
  setHistoryOpen(open: boolean): void;
  onAnother(): void;
}

function FilledCard({
  form: newest,
  version: newestVersion,
  base,
  path,
  opened,
  onAnother,
  historyOpen,
  setHistoryOpen,
}: CardPageProps & FilledCardProps) {
  // What a card was begun on, it is finished on; the next one takes up what has been published meanwhile.
  const [{ form, version }] = useState({ form: newest, version: newestVersion });
  const { session, may, cabinet } = useOffice();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const say = useSay();
  const goOn = useRef(false);
  const [why, setWhy] = useState<string>();
  const opening = useMemo(
    () => ({
      account: session.login,
      now: civilNow(),
      record: opened
        ? {
            id: opened.id,
            version: opened.version,
            values: opened.values,
            linked: opened.linked,
            origins: opened.origins,
          }
        : null,
      lines: opened?.lines,
    }),
    [session.login, opened],
  );
  const saved = async (answer: EntryAnswer): Promise<void> => {
    leaving.current = true;
    say(opened ? 'Saved.' : `Saved as ${answer.reference}.`);
    void queries.invalidateQueries({ queryKey: ['records', form.table.id] });
    void queries.invalidateQueries({ queryKey: ['history', form.table.id] });
    void queries.invalidateQueries({ queryKey: ['form'] });
    if (goOn.current) {
      if (opened) navigate(path + (opened.place.next === null ? '/new' : `/${opened.place.next}`));
      else onAnother();
      return;
    }
    if (opened) await queries.invalidateQueries({ queryKey: ['record', form.table.id, String(opened.id)] });
    else if (answer.record) navigate(`${path}/${answer.record.id}`);
  };
  const entry = useEntry({ form, opening, base, formVersion: version, onSaved: (answer) => void saved(answer) });
  const { state } = entry;
  const leaving = useLeaving(hasUnsavedWork(entry) && state.phase !== 'saving');
  const { definition } = form;
  const mayWrite = opened
    ? may('change') && definition.may.change && !opened.archived
    : may('add') && definition.may.add;

  const save = (next: boolean): void => {
    (document.activeElement as HTMLElement | null)?.blur();
    goOn.current = next;
    entry.dispatch({ type: 'savePressed' });
    requestAnimationFrame(() => {
      focusFirstProblem();
    });
  };
  const go = (id: number | null): void => {
    if (id !== null) navigate(`${path}/${id}`);
  };
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.ctrlKey && event.key === 's' && mayWrite) save(false);
      else if (event.ctrlKey && event.key === 'Enter' && mayWrite) save(true);
      else if (event.altKey && event.key === 'ArrowLeft') go(opened?.place.previous ?? null);
      else if (event.altKey && event.key === 'ArrowRight') go(opened?.place.next ?? null);
      else if (event.altKey && event.key.toLowerCase() === 'w') {
        const here = (event.target as Element).closest<HTMLElement>('[data-field]')?.dataset.field?.replace(/^f-/, '');
        setWhy(here !== undefined && dropdownAt(form, here) ? here : undefined);
      } else if (event.altKey && event.key.toLowerCase() === 'h' && opened && may('history'))
        setHistoryOpen(!historyOpen);
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
  const first = [...form.fields.values()].find((field) => field.placed && !field.readOnly)?.id;
  useEffect(() => {
    if (!opened && first) focusField(first);
  }, [opened, first]);

  const archive = async (back: boolean): Promise<void> => {
    if (!opened) return;
    const change = (verb: string, of: number) =>
      send<RecordView>('POST', `/api/tables/${form.table.id}/records/${opened.id}/${verb}`, { version: of });
    const done = async (): Promise<void> => {
      await queries.invalidateQueries({ queryKey: ['record', form.table.id] });
      void queries.invalidateQueries({ queryKey: ['records', form.table.id] });
      void queries.invalidateQueries({ queryKey: ['history', form.table.id] });
    };
    try {
      const after = await change(back ? 'restore' : 'archive', opened.version);
      await done();
      say(
        back ? `${opened.title} is back in use.` : `${opened.title} is archived.`,
        back ? undefined : () => void change('restore', after.version).then(done),
      );
    } catch (error) {
      say((error as Error).message);
    }
  };

  const problems = visibleProblems(state);
  const asked = problems.filter((one) => one.asks).length;
  const open = problems.length - asked;
  const busySaving = state.phase === 'saving' || state.phase === 'settling';
  const number = form.table.fields.find((field) => field.type === 'sequence');
  return (
    <div className="with-sheet">
      <div className="page-body">
        <Card
          title={definition.label}
          mark={
            opened && (
              <span className="mono faded">{number ? String(opened.values[number.id] ?? '') : opened.title}</span>
            )
          }
          end={<Neighbours opened={opened} path={path} may={may('add') && definition.may.add} />}
        >
          <ProblemList entry={entry} />
          {entry.conflict && (
            <ConflictNote
              conflict={entry.conflict}
              state={state}
              onTheirs={() => void queries.invalidateQueries({ queryKey: ['record', form.table.id] })}
            />
          )}
          {opened?.archived && (
            <p className="card-section ruled-notice">
              This record is archived: it is out of use, and stays in histories and in links to it.
            </p>
          )}
          <fieldset className="card-fields" disabled={!mayWrite} onKeyDown={enterMovesOn}>
            <EntryFields entry={entry} onWhy={setWhy} linkTo={(table, id) => `/${cabinet.id}/tables/${table}/${id}`} />
          </fieldset>
          {mayWrite && <ReasonList entry={entry} />}
          {entry.trouble && (
            <p className="card-section ruled-problem" role="alert">
              {entry.trouble}
            </p>
          )}
          <footer className="card-foot">
            {opened && definition.showStamp && <Stamp {...opened.stamp} />}
            <div className="end">
              {opened && may('history') && (
                <button
                  type="button"
                  className="button plain"
                  aria-expanded={historyOpen}
                  onClick={() => setHistoryOpen(!historyOpen)}
                >
                  History
                </button>
              )}
              {opened?.archived && may('erase') && (
                <EraseRecord
                  table={form.table.id}
                  record={opened}
                  onErased={() => {
                    leaving.current = true;
                    void queries.invalidateQueries({ queryKey: ['records', form.table.id] });
                    say(`${opened.title} is erased. Its line in the ledger says so.`);
                    navigate(path.includes('/forms/') ? `${path}/new` : path);
                  }}
                />
              )}
              {opened && may('archive') && definition.may.archive && (
                <button type="button" className="button plain" onClick={() => void archive(opened.archived)}>
                  {opened.archived ? 'Restore' : 'Archive'}
                </button>
              )}
              {mayWrite && (
                <>
                  <button
                    type="button"
                    className="button plain"
                    disabled={!hasUnsavedWork(entry)}
                    onClick={() => entry.dispatch({ type: 'reset' })}
                  >
                    Reset
                  </button>
                  <button type="button" className="button" disabled={busySaving} onClick={() => save(true)}>
                    Save and next
                  </button>
                  <button type="button" className="button main" disabled={busySaving} onClick={() => save(false)}>
                    {busySaving
                      ? 'Saving…'
                      : open > 0
                        ? `Save, ${open} left to mend`
                        : asked > 0
                          ? `Save, ${asked} to give a reason for`
                          : 'Save'}
                  </button>
                </>
              )}
            </div>
          </footer>
        </Card>
        {opened && <LinkingRecords table={form.table.id} record={opened.id} />}
      </div>
      {why !== undefined && (
        <WhySheet state={state} field={why} base={base} formVersion={version} onClose={() => setWhy(undefined)} />
      )}
      {historyOpen && opened && why === undefined && (
        <HistorySheet table={form.table.id} record={opened.id} onClose={() => setHistoryOpen(false)} />
      )}
    </div>
  );
}

function Neighbours({ opened, path, may }: { opened?: PlacedRecord; path: string; may: boolean }) {
  const arrow = (id: number | null, sign: string, words: string) =>
    id === null ? (
      <span aria-hidden="true" className="faded step">
        {sign}
      </span>
    ) : (
      <Link className="step" to={`${path}/${id}`} aria-label={words}>
        {sign}
      </Link>
    );
  return (
    <>
      {opened && !opened.archived && (
        <span className="neighbours">
          {arrow(opened.place.previous, '‹', 'Previous record')}
          <span>
            Record <strong>{opened.place.position.toLocaleString('en-GB')}</strong> of{' '}
            {opened.place.total.toLocaleString('en-GB')}
          </span>
          {arrow(opened.place.next, '›', 'Next record')}
        </span>
      )}
      {opened && may && <Link to={`${path}/new`}>New</Link>}
    </>
  );
}

function HistorySheet({ table, record, onClose }: { table: string; record: number; onClose(): void }) {
  const query = useQuery({
    queryKey: ['history', table, record],
    queryFn: () => send<{ lines: LineView[] }>('GET', `/api/tables/${table}/records/${record}/history`),
  });
  return (
    <Sheet title="History" onClose={onClose}>
      {query.isError && <p role="alert">{query.error.message}</p>}
      {query.data?.lines.map((line) => (
        <LedgerLine key={line.id} line={line} />
      ))}
    </Sheet>
  );
}
