import type { RecordView } from '@fiche/core/api';
import {
  type EntryState,
  enterUnsaved,
  type Opening,
  typedSince,
  type Unsaved,
  unsavedCopyOf,
  unsavedOf,
} from '@fiche/core/entry';
import { say } from '@fiche/core/languages';
import { civilNow } from '@fiche/core/office';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useOffice } from '../client/index.ts';
import { focusFirstProblem, hasUnsavedWork, useEntry } from '../entry/index.ts';
import { uploadsNow } from '../inputs/index.ts';
import { useLeaving, useNotify } from '../parts/index.ts';
import type { FilledCardProps } from './filledCardProps.ts';
import { forgetWork, useKeptWork } from './unsavedWork.ts';
import { useAfterSave } from './useAfterSave.ts';
import { useArchive } from './useArchive.ts';
import { useCardFocus } from './useCardFocus.ts';
import { useRemoteChanges } from './useRemoteChanges.ts';

/**
 * The entry of a card with all that happens around it: unsaved work is kept and asked about, what others save comes in,
 * the focus stays, and a save goes on to where work goes on.
 */
export function useCardEntry(props: FilledCardProps) {
  const { form: newest, version: newestVersion, base, formId, opened, beside } = props;
  const { place, typing } = props;
  // What a card was begun on, it is finished on; the next one takes up what has been published meanwhile.
  const [{ form, version, start }] = useState({ form: newest, version: newestVersion, start: props.start });
  const { session, may } = useOffice();
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
  const afterSave = useAfterSave(props, form);
  const entry = useEntry({
    form,
    opening,
    base,
    formVersion: version,
    start: start && ((state) => enterUnsaved(state, start.unsaved, start.begun)),
    onSaved(answer) {
      leaving.current = true;
      forgetWork(place);
      if (left) forgetWork(place, left.tab);
      void afterSave({
        answer,
        next: goOn.current,
        savedAt: savedAt.current,
        entered: () => unsavedCopyOf(entry.state),
        typedSince: () =>
          sent.current && live.current ? typedSince(sent.current, unsavedOf(live.current)) : undefined,
      });
    },
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
