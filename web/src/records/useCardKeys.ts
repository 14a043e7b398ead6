import type { PreparedForm } from '@fiche/core/forms';
import { useEffect } from 'react';
import { dropdownAt } from '../entry/index.ts';
import type { PlacedRecord } from './CardPage.tsx';

/** What the keys of a card do; what is left out is not for this card, or not for this person. */
interface Doing {
  readonly form: PreparedForm;
  readonly opened?: PlacedRecord;
  go?(id: number | null): void;
  save?(next: boolean): void;
  copy?(): void;
  blank?(): void;
  keep?(field: string): void;
  why?(path: string | undefined): void;
  history?(): void;
}

/** The field or cell in which a key was pressed. */
const placeOf = (event: KeyboardEvent): string | undefined =>
  (event.target as Element).closest<HTMLElement>('[data-field]')?.dataset.field?.replace(/^f-/, '');

export function useCardKeys(doing: Doing): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (act(event, doing)) event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
}

/** True when the key was for the card. */
function act(event: KeyboardEvent, { form, opened, ...doing }: Doing): boolean {
  const key = event.key.toLowerCase();
  const run = (what: (() => void) | undefined): boolean => {
    what?.();
    return what !== undefined;
  };
  if (event.ctrlKey && !event.altKey) {
    const { save } = doing;
    if (key === 's') return run(save && (() => save(false)));
    if (key === 'enter') return run(save && (() => save(true)));
    return false;
  }
  if (!event.altKey) return false;
  const { go, why } = doing;
  switch (key) {
    case 'arrowleft':
      return run(go && (() => go(opened?.place.previous ?? null)));
    case 'arrowright':
      return run(go && (() => go(opened?.place.next ?? null)));
    case 'd':
      return run(doing.copy);
    case 'n':
      return run(doing.blank);
    case 'h':
      return run(doing.history);
    case 'k': {
      const field = placeOf(event);
      const { keep } = doing;
      return field !== undefined && form.fields.get(field)?.readOnly === false && run(keep && (() => keep(field)));
    }
    case 'w': {
      const here = placeOf(event);
      return run(why && (() => why(here !== undefined && dropdownAt(form, here) ? here : undefined)));
    }
    default:
      return false;
  }
}
