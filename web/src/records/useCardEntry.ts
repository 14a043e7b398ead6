import type { EntryAnswer, RecordView } from '@fiche/core/api';
import {
  type EntryState,
  enterUnsaved,
  type Opening,
  typedSince,
  type Unsaved,
  unsavedCopyOf,
  unsavedOf,
} from '@fiche/core/entry';
import { afterSaveOf } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { focusFirstProblem, hasUnsavedWork, useEntry } from '../entry/index.ts';
import { uploadsNow } from '../inputs/index.ts';
import { useLeaving, useNotify } from '../parts/index.ts';
import { cardAddress } from './card.ts';
import type { FilledCardProps } from './filledCardProps.ts';
import { forgetWork, useKeptWork } from './unsavedWork.ts';
import { useArchive } from './useArchive.ts';
import { useCardFocus } from './useCardFocus.ts';
import { useRemoteChanges } from './useRemoteChanges.ts';

/**
 * The entry of a card with all that happens around it: unsaved work is kept and asked about, what others save comes in,
 * the focus stays, and a save goes on to where work goes on.
 */
export function useCardEntry(props: FilledCardProps) {
  const { form: newest, version: newestVersion, base, path, formId, opened, beside } = props;
  const { place, onAnother, kept, typing } = props;
  // What a card was begun on, it is finished on; the next one takes up what has been published meanwhile.
  const [{ form, version, start }] = useState({ form: newest, version: newestVersion, start: props.start });
  const { session, may, cabinet } = useOffice();
  const formsToFill = new Set(
    cabinet.forms.flatMap((one) =>
      one.liveVersion !== null && !one.archived && may('add', one.table) ? [one.id] : [],
    ),
  );
  const navigate = useNavigate();
  const queries = useQueryClient();
  const notify = useNotify();
  const goOn = useRef(false);
  /** The address at which the save was sent. */
  const savedAt = useRef<string>(undefined);
  const [left, setLeft] = useState(start?.left);
  const sent = useRef<Unsaved>(undefined);
  const live = useRef<EntryState | undefined>(undefined);
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
    notify(opened ? say('Saved.') : say('Saved as {reference}.', { reference: answer.reference }));
    for (const key of ['records', 'history', 'linking'])
      void queries.invalidateQueries({ queryKey: [key, form.table.id] });
    void queries.invalidateQueries({ queryKey: ['form'] });
    // Whoever has gone on elsewhere while it was being saved stays there.
    if (savedAt.current !== undefined && window.location.href !== savedAt.current) return;
    if (answer.record === null && !goOn.current) {
      notify(say('Saved as {reference}. It is outside of what your role sees now.', { reference: answer.reference }));
      navigate(beside?.list ?? (opened || !path.includes('/forms/') ? path : `${path}/new`));
      return;
    }
    if (goOn.current) {
      if (opened) navigate(opened.place.next === null ? `${path}/new` : cardAddress(props, opened.place.next));
      else onAnother(keptOf(unsavedCopyOf(entry.state), kept));
      return;
    }
    const next = afterSaveOf(form.definition);
    if (next.kind === 'blank') {
      if (opened) navigate(`${path}/new`);
      else onAnother(keptOf(unsavedCopyOf(entry.state), kept));
      return;
    }
    if (next.kind === 'list' || (next.kind === 'form' && formsToFill.has(next.form))) {
      const list = `tables/${form.table.id}${form.definition.view == null ? '' : `?view=${form.definition.view}`}`;
      navigate(`/${cabinet.id}/${next.kind === 'list' ? list : `forms/${next.form}/new`}`);
      return;
    }
    typing.current = () =>
      sent.current && live.current ? typedSince(sent.current, unsavedOf(live.current)) : undefined;
    if (opened) await queries.invalidateQueries({ queryKey: ['record', form.table.id, String(opened.id)] });
    else if (answer.record) navigate(cardAddress(props, answer.record.id));
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
  live.current = state;
  const { kind: phase } = state.phase;
  // biome-ignore lint/correctness/useExhaustiveDependencies: as it was when the save was sent.
  useEffect(() => {
    if (phase !== 'saving') return;
    sent.current = unsavedOf(state);
    savedAt.current = window.location.href;
  }, [phase]);
  // What was typed into the card before is in this one now.
  useEffect(() => {
    typing.current = undefined;
  }, [typing]);
  const dirty = hasUnsavedWork(entry);
  const leaving = useLeaving(dirty && state.phase.kind !== 'saving', () => forgetWork(place));
  const { definition } = form;
  const current = entry.remote ?? opened;
  const archived = current?.archived === true;
  const mayAdd = may('add', form.table.id) && definition.may.add;
  const mayChange = (opened?.may?.change ?? may('change', form.table.id)) && definition.may.change;
  const mayWrite = opened ? mayChange && !archived : mayAdd;
  // Asked when it is kept: by then the card may have been saved and left.
  useKeptWork(place, dirty ? () => (leaving.current ? undefined : unsavedOf(state)) : undefined, state, left?.tab);

  const showNow = useRemoteChanges({ entry, version, formId, opened, dirty, left, leaving });
  const archive = useArchive(form.table.id, current, showNow);
  const rememberFocus = useCardFocus({
    form,
    record: opened?.id,
    wantsFocus: beside?.wantsFocus,
    mayWrite,
    refusals: entry.refusals,
    focus: props.focus,
  });

  const save = (next: boolean): void => {
    rememberFocus();
    if (uploadsNow() > 0) {
      notify(say('Some files are still on their way. Save once they have arrived.'));
      return;
    }
    goOn.current = next;
    entry.dispatch({ type: 'savePressed' });
    requestAnimationFrame(focusFirstProblem);
  };
  return { entry, form, version, left, setLeft, leaving, current, archived, mayWrite, mayAdd, archive, save };
}

const recordOf = ({ id, version, values, linked, origins }: RecordView) => ({ id, version, values, linked, origins });

/** The values that the next blank card begins with. */
function keptOf(entered: Unsaved, kept: ReadonlySet<string>): Unsaved | undefined {
  const fields = entered.fields.filter((one) => kept.has(one.field));
  return fields.length === 0 ? undefined : { record: null, fields, lines: {} };
}
