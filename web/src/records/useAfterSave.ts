import type { EntryAnswer } from '@fiche/core/api';
import type { Unsaved } from '@fiche/core/entry';
import { afterSaveOf } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { useNotify } from '../parts/index.ts';
import { cardAddress } from './card.ts';
import type { FilledCardProps } from './filledCardProps.ts';

/** A save that the server has taken. */
interface Saved {
  readonly answer: EntryAnswer;
  /** It was *save and next*. */
  readonly next: boolean;
  /** The address at which the save was sent. */
  readonly savedAt: string | undefined;
  /** What was entered: values that are kept begin the next card. */
  entered(): Unsaved;
  /** What was typed since the save was sent. */
  typedSince(): Unsaved | undefined;
}

/** Says that a card is saved, and goes on to where work goes on: the next record, a blank card, a list, another form, or the card itself. */
export function useAfterSave(props: FilledCardProps, form: FilledCardProps['form']): (saved: Saved) => Promise<void> {
  const { path, opened, beside, onAnother, kept, typing } = props;
  const { may, cabinet } = useOffice();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const notify = useNotify();
  const mayFill = (id: string): boolean =>
    cabinet.forms.some((one) => one.id === id && one.liveVersion !== null && !one.archived && may('add', one.table));
  return async ({ answer, next, savedAt, entered, typedSince }) => {
    notify(opened ? say('Saved.') : say('Saved as {reference}.', { reference: answer.reference }));
    for (const key of ['records', 'history', 'linking'])
      void queries.invalidateQueries({ queryKey: [key, form.table.id] });
    void queries.invalidateQueries({ queryKey: ['form'] });
    // Whoever has gone on elsewhere while it was being saved stays there.
    if (savedAt !== undefined && window.location.href !== savedAt) return;
    if (answer.record === null && !next) {
      notify(say('Saved as {reference}. It is outside of what your role sees now.', { reference: answer.reference }));
      navigate(beside?.list ?? (opened || !path.includes('/forms/') ? path : `${path}/new`));
      return;
    }
    const then = afterSaveOf(form.definition);
    if (next || then.kind === 'blank') {
      if (!opened) onAnother(keptOf(entered(), kept));
      else navigate(next && opened.place.next !== null ? cardAddress(props, opened.place.next) : `${path}/new`);
      return;
    }
    if (then.kind === 'list' || (then.kind === 'form' && mayFill(then.form))) {
      const list = `tables/${form.table.id}${form.definition.view == null ? '' : `?view=${form.definition.view}`}`;
      navigate(`/${cabinet.id}/${then.kind === 'list' ? list : `forms/${then.form}/new`}`);
      return;
    }
    typing.current = typedSince;
    if (opened) await queries.invalidateQueries({ queryKey: ['record', form.table.id, String(opened.id)] });
    else if (answer.record) navigate(cardAddress(props, answer.record.id));
  };
}

/** The values that the next blank card begins with. */
function keptOf(entered: Unsaved, kept: ReadonlySet<string>): Unsaved | undefined {
  const fields = entered.fields.filter((one) => kept.has(one.field));
  return fields.length === 0 ? undefined : { record: null, fields, lines: {} };
}
