import type { PreparedForm } from '@fiche/core/forms';
import type { FieldId } from '@fiche/core/tables';
import { dropdownAt } from '../entry/index.ts';
import { useShortcut } from '../parts/index.ts';
import type { PlacedRecord } from './card.ts';

/** What the shortcuts of a card do; what is left out is not for this card, or not for this person. */
interface CardActions {
  readonly form: PreparedForm;
  readonly opened?: PlacedRecord;
  go?(id: number | null): void;
  save?(next: boolean): void;
  copy?(): void;
  blank?(): void;
  keep?(field: FieldId): void;
  why?(path: string | undefined): void;
  history?(): void;
}

/** The field or cell in which a key was pressed. */
const placeOf = (event: KeyboardEvent): string | undefined =>
  (event.target as Element).closest<HTMLElement>('[data-field]')?.dataset.field?.replace(/^f-/, '');

/** Gives an open card its shortcuts. */
export function useCardKeys({ form, opened, go, save, copy, blank, keep, why, history }: CardActions): void {
  useShortcut('save', save && (() => save(false)));
  useShortcut('saveAndNext', save && (() => save(true)));
  useShortcut('previousRecord', go && (() => go(opened?.place.previous ?? null)));
  useShortcut('nextRecord', go && (() => go(opened?.place.next ?? null)));
  useShortcut('duplicate', copy);
  useShortcut('blankCard', blank);
  useShortcut('history', history);
  useShortcut(
    'keepValue',
    keep &&
      ((event) => {
        const field = placeOf(event);
        if (field !== undefined && form.fields.get(field)?.readOnly === false) keep(field);
      }),
  );
  useShortcut(
    'why',
    why &&
      ((event) => {
        const here = placeOf(event);
        why(here !== undefined && dropdownAt(form, here) ? here : undefined);
      }),
  );
}
