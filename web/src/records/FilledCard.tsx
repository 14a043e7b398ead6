import type { EntryAnswer, RecordView } from '@fiche/core/api';
import { enterUnsaved, type Opening, type Unsaved, unsavedCopyOf, unsavedOf } from '@fiche/core/entry';
import type { Value } from '@fiche/core/fields';
import { civilNow } from '@fiche/core/office';
import { useQueryClient } from '@tanstack/react-query';
import { type RefObject, useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router-dom';
import { send, useOffice } from '../client/index.ts';
import {
  EntryFields,
  enterMovesOn,
  focusField,
  focusFirstProblem,
  hasUnsavedWork,
  lastBy,
  ProblemList,
  ReasonList,
  useEntry,
  WhySheet,
} from '../entry/index.ts';
import { uploadsNow } from '../inputs/index.ts';
import { Card, useNotify } from '../parts/index.ts';
import { AddInPlace, type Adding } from './AddInPlace.tsx';
import { CardFoot } from './CardFoot.tsx';
import type { CardPageProps, PlacedRecord } from './card.ts';
import type { Erasing } from './EraseRecord.tsx';
import { HistorySheet } from './HistorySheet.tsx';
import { LinkingRecords } from './LinkingRecords.tsx';
import { useLeaving } from './leaving.ts';
import { RecordNavigation } from './RecordNavigation.tsx';
import { UnsavedNote } from './UnsavedNote.tsx';
import { forgetWork, type KeptWork, useKeptWork } from './unsavedWork.ts';
import { useCardKeys } from './useCardKeys.ts';
import { stateOf, useLive } from './useLive.ts';

/** What a card begins with; `left` where it is work that was left unsaved. */
export interface StartedWith {
  readonly unsaved: Unsaved;
  readonly left?: KeptWork;
  /** Kept from the card before: nobody’s unsaved work. */
  readonly begun?: boolean;
}

interface FilledCardProps extends CardPageProps {
  readonly opened?: PlacedRecord;
  /** Names this card among the work that is kept in this browser. */
  readonly place: string;
  readonly start?: StartedWith;
  /** The history sheet stays open from one card to the next. */
  readonly historyOpen: boolean;
  setHistoryOpen(open: boolean): void;
  readonly erasing: Erasing | undefined;
  setErasing(erasing: Erasing | undefined): void;
  /** The fields whose values the next blank card begins with. */
  readonly kept: ReadonlySet<string>;
  setKept(kept: ReadonlySet<string>): void;
  /** The field in which the focus was when the card was saved. */
  readonly focus: RefObject<string | undefined>;
  onAnother(start: Unsaved | undefined): void;
}

/** A card being filled: blank, a copy, or a record. */
export function FilledCard(props: FilledCardProps) {
  const { form: newest, version: newestVersion, base, path, formId, opened, place, onAnother, kept } = props;
  // What a card was begun on, it is finished on; the next one takes up what has been published meanwhile.
  const [{ form, version, start }] = useState({ form: newest, version: newestVersion, start: props.start });
  const { session, may, cabinet } = useOffice();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const notify = useNotify();
  const goOn = useRef(false);
  const [why, setWhy] = useState<string>();
  const [adding, setAdding] = useState<Adding>();
  const [left, setLeft] = useState(start?.left);
  const opening = useMemo(
    (): Opening => ({
      account: session.login,
      now: civilNow(),
      record: opened ? recordOf(opened) : null,
      lines: opened?.lines,
    }),
    [session.login, opened],
  );
  const saved = async (answer: EntryAnswer): Promise<void> => {
    leaving.current = true;
    forgetWork(place);
    if (left) forgetWork(place, left.tab);
    notify(opened ? 'Saved.' : `Saved as ${answer.reference}.`);
    for (const key of ['records', 'history', 'linking'])
      void queries.invalidateQueries({ queryKey: [key, form.table.id] });
    void queries.invalidateQueries({ queryKey: ['form'] });
    if (goOn.current) {
      if (opened) navigate(path + (opened.place.next === null ? '/new' : `/${opened.place.next}`));
      else onAnother(keptOf(unsavedCopyOf(entry.state), kept));
      return;
    }
    if (opened) await queries.invalidateQueries({ queryKey: ['record', form.table.id, String(opened.id)] });
    else if (answer.record) navigate(`${path}/${answer.record.id}`);
  };
  const entry = useEntry({
    form,
    opening,
    base,
    formVersion: version,
    start: start && ((state) => enterUnsaved(state, start.unsaved, start.begun)),
    onSaved: (answer) => void saved(answer),
  });
  const { state } = entry;
  const dirty = hasUnsavedWork(entry);
  const leaving = useLeaving(dirty && state.phase !== 'saving', () => forgetWork(place));
  const { definition } = form;
  const current = entry.met ?? opened;
  const archived = current?.archived === true;
  const mayWrite = opened ? may('change') && definition.may.change && !archived : may('add') && definition.may.add;
  const mayAdd = may('add') && definition.may.add;
  // Asked when it is kept: by then the card may have been saved and left.
  useKeptWork(place, dirty ? () => (leaving.current ? undefined : unsavedOf(state)) : undefined, state, left?.tab);

  const fetchNow = (): Promise<RecordView> => {
    const reads = formId === undefined ? '' : `?form=${formId}${version === null ? '' : `&version=${version}`}`;
    return send<RecordView>('GET', `/api/tables/${form.table.id}/records/${opened?.id}${reads}`);
  };
  // Work that was left here may be older than what somebody else has saved since.
  useEffect(() => {
    const begun = left?.unsaved.record;
    if (!begun || !opened || begun.version === opened.version) return;
    notify(`${lastBy(opened)} has changed this record since you left it. Look at it before you save.`);
  }, [left, opened, notify]);
  useLive(form.table.id, opened, () => {
    if (state.phase === 'saving' || leaving.current) return;
    void fetchNow().then(
      (there) => {
        if (leaving.current || stateOf(there) === stateOf(current ?? there)) return;
        const by = lastBy(there);
        if (by !== session.login)
          notify(there.archived ? `${by} has just archived this record.` : `Changed just now by ${by}.`);
        if (dirty) entry.meet(there);
        else void queries.invalidateQueries({ queryKey: ['record', form.table.id, String(opened?.id)] });
      },
      // Without a connection there is nothing to hear; the save says so.
      () => undefined,
    );
  });

  const save = (next: boolean): void => {
    const at = document.activeElement?.closest<HTMLElement>('[data-field]')?.dataset.field?.replace(/^f-/, '');
    props.focus.current = at ?? first;
    (document.activeElement as HTMLElement | null)?.blur();
    if (uploadsNow() > 0) {
      notify('Some files are still on their way. Save once they have arrived.');
      return;
    }
    goOn.current = next;
    entry.dispatch({ type: 'savePressed' });
    requestAnimationFrame(() => {
      focusFirstProblem();
    });
  };
  // What the server refuses: to the first problem, or else back to the field that was left to save.
  const refusals = useRef(entry.refusals);
  useEffect(() => {
    if (refusals.current === entry.refusals) return;
    refusals.current = entry.refusals;
    if (document.activeElement !== document.body) return;
    if (props.focus.current !== undefined) focusField(props.focus.current);
    focusFirstProblem();
  }, [entry.refusals, props.focus]);
  const copy = (): void => {
    leaving.current = true;
    navigate(`${path}/new`, { state: { copy: unsavedCopyOf(state) } });
  };
  const keepField = (field: string): void => {
    const next = new Set(kept);
    if (!next.delete(field)) next.add(field);
    props.setKept(next);
  };
  useCardKeys({
    form,
    go: (id) => id !== null && navigate(`${path}/${id}`),
    opened,
    save: mayWrite ? save : undefined,
    copy: opened && mayAdd ? copy : undefined,
    blank: mayAdd ? () => navigate(`${path}/new`) : undefined,
    keep: opened ? undefined : keepField,
    why: setWhy,
    history: opened && may('history') ? () => props.setHistoryOpen(!props.historyOpen) : undefined,
  });
  const first = [...form.fields.values()].find((field) => field.placed && !field.readOnly)?.id;
  // The card is drawn anew after a save, and for another record: the focus goes on where it was.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the card opens.
  useEffect(() => {
    const lost = document.activeElement === null || document.activeElement === document.body;
    if (!opened && first) focusField(first);
    else if (lost && mayWrite && props.focus.current !== undefined) focusField(props.focus.current);
    props.focus.current = undefined;
  }, []);

  const archive = async (back: boolean): Promise<void> => {
    if (!current) return;
    const change = (verb: string, of: number) =>
      send<RecordView>('POST', `/api/tables/${form.table.id}/records/${current.id}/${verb}`, { version: of });
    const done = async (): Promise<void> => {
      // What is being entered stays on the card.
      if (dirty) entry.meet(await fetchNow());
      else await queries.invalidateQueries({ queryKey: ['record', form.table.id] });
      for (const key of ['records', 'history']) void queries.invalidateQueries({ queryKey: [key, form.table.id] });
    };
    try {
      const after = await change(back ? 'restore' : 'archive', current.version);
      await done();
      notify(
        back ? `${current.title} is back in use.` : `${current.title} is archived.`,
        back ? undefined : () => void change('restore', after.version).then(done),
      );
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const putBack = (values: Readonly<Record<string, Value>>): void => {
    const open = Object.entries(values).filter(([id]) => form.fields.get(id)?.readOnly === false);
    for (const [field, value] of open) entry.dispatch({ type: 'changed', field, value, unchosen: true });
    notify(
      open.length === 0
        ? 'Nothing of this can be written on this form.'
        : 'Put back on the card. Save writes it, as a change of its own.',
    );
  };
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
          end={<RecordNavigation table={form.table.id} path={path} opened={opened} mayAdd={mayAdd} />}
        >
          {left && (
            <UnsavedNote
              left={left}
              onThrowAway={() => {
                forgetWork(place);
                forgetWork(place, left.tab);
                setLeft(undefined);
                entry.dispatch({ type: 'reset' });
              }}
              onKeep={() => setLeft(undefined)}
            />
          )}
          <ProblemList entry={entry} />
          {archived && (
            <p className="card-section ruled-notice">
              {current?.stamp.changedBy === session.login || current === opened
                ? 'This record is archived: it stays in histories and in links to it.'
                : `${current?.stamp.changedBy} has archived this record meanwhile. Restore it to save what you entered.`}
            </p>
          )}
          <fieldset className="card-fields" disabled={!mayWrite} onKeyDown={enterMovesOn}>
            <EntryFields
              entry={entry}
              onWhy={setWhy}
              onAdd={may('add') ? (path, text) => setAdding({ path, text }) : undefined}
              linkTo={(table, id) => `/${cabinet.id}/tables/${table}/${id}`}
            />
          </fieldset>
          {mayWrite && <ReasonList entry={entry} />}
          {entry.trouble && (
            <p className="card-section ruled-problem" role="alert">
              {entry.trouble}
            </p>
          )}
          <CardFoot
            entry={entry}
            opened={opened}
            archived={archived}
            mayWrite={mayWrite}
            mayAdd={mayAdd}
            kept={kept}
            historyOpen={props.historyOpen}
            erasing={props.erasing}
            setErasing={props.setErasing}
            onHistory={() => props.setHistoryOpen(!props.historyOpen)}
            onKeep={keepField}
            onCopy={copy}
            onArchive={(back) => void archive(back)}
            onErased={(gone) => {
              leaving.current = true;
              void queries.invalidateQueries({ queryKey: ['records', form.table.id] });
              notify(`${gone.title} is erased. Its line in the ledger says so.`);
              navigate(path.includes('/forms/') ? `${path}/new` : path);
            }}
            onSave={save}
          />
        </Card>
        {opened && <LinkingRecords table={form.table.id} record={opened.id} />}
      </div>
      {why !== undefined && (
        <WhySheet state={state} field={why} base={base} formVersion={version} onClose={() => setWhy(undefined)} />
      )}
      {adding && why === undefined && (
        <AddInPlace
          key={adding.path}
          {...adding}
          state={state}
          onClose={() => {
            setAdding(undefined);
            focusField(adding.path);
          }}
          onAdded={(event, title) => {
            entry.dispatch(event);
            notify(`${title} was added, and chosen.`);
            setAdding(undefined);
            focusField(adding.path);
          }}
        />
      )}
      {props.historyOpen && opened && why === undefined && !adding && (
        <HistorySheet
          table={form.table.id}
          record={opened.id}
          formId={formId}
          onPutBack={mayWrite ? putBack : undefined}
          onClose={() => props.setHistoryOpen(false)}
        />
      )}
    </div>
  );
}

const recordOf = ({ id, version, values, linked, origins }: RecordView) => ({ id, version, values, linked, origins });

/** The values that the next blank card begins with. */
function keptOf(entered: Unsaved, kept: ReadonlySet<string>): Unsaved | undefined {
  const fields = entered.fields.filter((one) => kept.has(one.field));
  return fields.length === 0 ? undefined : { record: null, fields, lines: {} };
}
