import type { RecordView } from '@fiche/core/api';
import { startedFrom, unsavedCopyOf } from '@fiche/core/entry';
import { isNumbered } from '@fiche/core/fields';
import type { Start } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import type { FieldId, TableDefinition } from '@fiche/core/tables';
import { useQueryClient } from '@tanstack/react-query';
import { clsx } from 'clsx';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { type Entry, EntryFields, enterMovesOn, ProblemList, ReasonList, SeveralFound } from '../entry/index.ts';
import { Card, cardCss, pageCss, sayWith, textCss, useNotify } from '../parts/index.ts';
import type { Adding } from './AddInPlace.tsx';
import { CardFoot } from './CardFoot.tsx';
import { CardSheets } from './CardSheets.tsx';
import { cardAddress, type PlacedRecord } from './card.ts';
import cardFieldsCss from './cardFields.module.css';
import type { FilledCardProps } from './filledCardProps.ts';
import { LinkingRecords } from './LinkingRecords.tsx';
import { RecordNavigation } from './RecordNavigation.tsx';
import { UnsavedNote } from './UnsavedNote.tsx';
import { forgetWork } from './unsavedWork.ts';
import { useCardEntry } from './useCardEntry.ts';
import { useCardKeys } from './useCardKeys.ts';

/** A card being filled: blank, a copy, or a record. */
export function FilledCard(props: FilledCardProps) {
  const { base, path, formId, opened, kept } = props;
  const { may } = useOffice();
  const navigate = useNavigate();
  const [why, setWhy] = useState<string>();
  const [adding, setAdding] = useState<Adding>();
  const card = useCardEntry(props);
  const { entry, form, version, left, setLeft, current, archived, mayWrite, mayAdd, save } = card;
  const { copy, start, throwAway, showErased, keepField } = useCardActs(props, card);
  useCardKeys({
    form,
    go: (id) => id !== null && navigate(cardAddress(props, id)),
    opened,
    save: mayWrite ? save : undefined,
    copy: opened && mayAdd ? copy : undefined,
    blank: mayAdd ? () => navigate(`${path}/new`) : undefined,
    keep: opened ? undefined : keepField,
    why: setWhy,
    history:
      opened && (opened.may?.history ?? may('history', form.table.id))
        ? () => props.setHistoryOpen(!props.historyOpen)
        : undefined,
  });
  return (
    <div className={pageCss.withSheet}>
      <div className={pageCss.body}>
        <Card
          title={form.definition.label}
          mark={opened && <RecordMark table={form.table} record={opened} />}
          end={
            <RecordNavigation
              {...{ path, opened, mayAdd }}
              cardAt={(id) => cardAddress(props, id)}
              table={form.table.id}
              view={props.view ?? undefined}
              asked={props.asked}
            />
          }
        >
          {left && <UnsavedNote left={left} onThrowAway={throwAway} onKeep={() => setLeft(undefined)} />}
          <ProblemList entry={entry} />
          {archived && current && (
            <ArchivedNote
              meanwhile={current !== opened}
              by={current.stamp.changedBy}
              into={opened?.mergedInto}
              path={path}
            />
          )}
          <FieldsOfCard
            entry={entry}
            mayWrite={mayWrite}
            onWhy={setWhy}
            onAdd={(path, text) => setAdding({ path, text })}
          />
          <CardFoot
            entry={entry}
            opened={opened}
            formId={props.formId}
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
            onStart={start}
            onArchive={(back) => void card.archive(back)}
            onErased={showErased}
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

interface FieldsOfCardProps {
  readonly entry: Entry;
  readonly mayWrite: boolean;
  onWhy(path: string): void;
  onAdd(path: string, text: string): void;
}

/** The fields of a card, and what keeps it from being saved. */
function FieldsOfCard({ entry, mayWrite, onWhy, onAdd }: FieldsOfCardProps) {
  const { may, cabinet } = useOffice();
  return (
    <>
      <fieldset className={cardFieldsCss.fields} disabled={!mayWrite} onKeyDown={enterMovesOn}>
        <EntryFields
          entry={entry}
          onWhy={onWhy}
          onAdd={may('add') ? onAdd : undefined}
          linkTo={(table, id) => `/${cabinet.id}/tables/${table}/${id}`}
        />
      </fieldset>
      {mayWrite && <ReasonList entry={entry} />}
      {entry.several && (
        <SeveralFound
          several={entry.several}
          then={say('save')}
          onChosen={(record) => entry.several && entry.chooseRecord(entry.several.destination, record)}
        />
      )}
      {entry.trouble && (
        <p className={clsx(cardCss.section, textCss.problem)} role="alert">
          {entry.trouble}
        </p>
      )}
    </>
  );
}

/** What a person can do with a card besides filling it. */
function useCardActs(
  { path, place, kept, setKept, opened, beside }: FilledCardProps,
  card: ReturnType<typeof useCardEntry>,
) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const notify = useNotify();
  const { cabinet } = useOffice();
  const { entry, form, left, setLeft, leaving } = card;
  return {
    start({ form: id, pairs }: Start): void {
      if (opened) navigate(`/${cabinet.id}/forms/${id}/new`, { state: { copy: startedFrom(opened, pairs) } });
    },
    copy(): void {
      leaving.current = true;
      navigate(`${path}/new`, { state: { copy: unsavedCopyOf(entry.state) } });
    },
    throwAway(): void {
      forgetWork(place);
      if (left) forgetWork(place, left.tab);
      setLeft(undefined);
      entry.dispatch({ type: 'reset' });
    },
    showErased(gone: { readonly title: string }): void {
      leaving.current = true;
      void queries.invalidateQueries({ queryKey: ['records', form.table.id] });
      notify(say('{title} is erased. Its line in the ledger says so.', { title: gone.title }));
      navigate(beside?.list ?? (path.includes('/forms/') ? `${path}/new` : path));
    },
    keepField(field: FieldId): void {
      const next = new Set(kept);
      if (!next.delete(field)) next.add(field);
      setKept(next);
    },
  };
}

/** What tells the record: its number, or its title. */
function RecordMark({ table, record }: { table: TableDefinition; record: PlacedRecord }) {
  const number = table.fields.find(isNumbered);
  return (
    <span className={clsx(textCss.mono, textCss.faded)}>
      {number ? String(record.values[number.id] ?? '') : record.title}
    </span>
  );
}

/** Says that the record is archived: before it was opened, or meanwhile, by somebody else. */
function ArchivedNote({
  meanwhile,
  by,
  into,
  path,
}: {
  meanwhile: boolean;
  by: string;
  /** The record that it was merged into. */
  into: RecordView['mergedInto'];
  path: string;
}) {
  const { session } = useOffice();
  if (into && !meanwhile)
    return (
      <p className={clsx(cardCss.section, textCss.notice)}>
        {sayWith('This record was merged into {link}, which has what belonged to it.', {
          link: <Link to={`${path}/${into.id}`}>{into.title}</Link>,
        })}
      </p>
    );
  return (
    <p className={clsx(cardCss.section, textCss.notice)}>
      {meanwhile && by !== session.login
        ? say('{by} has archived this record meanwhile. Restore it to save what you entered.', { by })
        : say('This record is archived: it stays in histories and in links to it.')}
    </p>
  );
}
