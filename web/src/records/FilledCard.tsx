import type { EntryAnswer, RecordView } from '@fiche/core/api';
import { enterUnsaved, type Opening, type Unsaved, unsavedCopyOf, unsavedOf } from '@fiche/core/entry';
import { isNumbered } from '@fiche/core/fields';
import { civilNow } from '@fiche/core/office';
import { useQueryClient } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { type RefObject, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import {
  EntryFields,
  enterMovesOn,
  focusFirstProblem,
  hasUnsavedWork,
  ProblemList,
  ReasonList,
  useEntry,
} from '../entry/index.ts';
import { uploadsNow } from '../inputs/index.ts';
import { Card, cardCss, pageCss, textCss, useNotify } from '../parts/index.ts';
import type { Adding } from './AddInPlace.tsx';
import { CardFoot } from './CardFoot.tsx';
import { CardSheets } from './CardSheets.tsx';
import type { CardPageProps, PlacedRecord } from './card.ts';
import cardFieldsCss from './cardFields.module.css';
import type { Erasing } from './EraseRecord.tsx';
import { LinkingRecords } from './LinkingRecords.tsx';
import { useLeaving } from './leaving.ts';
import { RecordNavigation } from './RecordNavigation.tsx';
import { UnsavedNote } from './UnsavedNote.tsx';
import { forgetWork, type KeptWork, useKeptWork } from './unsavedWork.ts';
import { useArchive } from './useArchive.ts';
import { useCardFocus } from './useCardFocus.ts';
import { useCardKeys } from './useCardKeys.ts';
import { useRemoteChanges } from './useRemoteChanges.ts';

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
  const current = entry.remote ?? opened;
  const archived = current?.archived === true;
  const mayWrite = opened ? may('change') && definition.may.change && !archived : may('add') && definition.may.add;
  const mayAdd = may('add') && definition.may.add;
  // Asked when it is kept: by then the card may have been saved and left.
  useKeptWork(place, dirty ? () => (leaving.current ? undefined : unsavedOf(state)) : undefined, state, left?.tab);

  const showNow = useRemoteChanges({ entry, version, formId, opened, dirty, left, leaving });
  const archive = useArchive(form.table.id, current, showNow);
  const rememberFocus = useCardFocus({
    form,
    isRecord: opened !== undefined,
    mayWrite,
    refusals: entry.refusals,
    focus: props.focus,
  });

  const save = (next: boolean): void => {
    rememberFocus();
    if (uploadsNow() > 0) {
      notify('Some files are still on their way. Save once they have arrived.');
      return;
    }
    goOn.current = next;
    entry.dispatch({ type: 'savePressed' });
    requestAnimationFrame(focusFirstProblem);
  };
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
  const number = form.table.fields.find((field) => isNumbered(field));
  return (
    <div className={pageCss.withSheet}>
      <div className={pageCss.body}>
        <Card
          title={definition.label}
          mark={
            opened && (
              <span className={clsx(textCss.mono, textCss.faded)}>
                {number ? String(opened.values[number.id] ?? '') : opened.title}
              </span>
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
            <p className={clsx(cardCss.section, textCss.notice)}>
              {current?.stamp.changedBy === session.login || current === opened
                ? 'This record is archived: it stays in histories and in links to it.'
                : `${current?.stamp.changedBy} has archived this record meanwhile. Restore it to save what you entered.`}
            </p>
          )}
          <fieldset className={cardFieldsCss.fields} disabled={!mayWrite} onKeyDown={enterMovesOn}>
            <EntryFields
              entry={entry}
              onWhy={setWhy}
              onAdd={may('add') ? (path, text) => setAdding({ path, text }) : undefined}
              linkTo={(table, id) => `/${cabinet.id}/tables/${table}/${id}`}
            />
          </fieldset>
          {mayWrite && <ReasonList entry={entry} />}
          {entry.trouble && (
            <p className={clsx(cardCss.section, textCss.problem)} role="alert">
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
      <CardSheets
        entry={entry}
        base={base}
        formId={formId}
        version={version}
        why={why}
        setWhy={setWhy}
        adding={adding}
        setAdding={setAdding}
        history={props.historyOpen ? opened?.id : undefined}
        mayWrite={mayWrite}
        onHistoryClosed={() => props.setHistoryOpen(false)}
      />
    </div>
  );
}

const recordOf = ({ id, version, values, linked, origins }: RecordView) => ({ id, version, values, linked, origins });

/** The values that the next blank card begins with. */
function keptOf(entered: Unsaved, kept: ReadonlySet<string>): Unsaved | undefined {
  const fields = entered.fields.filter((one) => kept.has(one.field));
  return fields.length === 0 ? undefined : { record: null, fields, lines: {} };
}
