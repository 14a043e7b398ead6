import type { PreparedForm } from '@fiche/core/forms';
import { type RefObject, useEffect, useRef } from 'react';
import { focusField, focusFirstProblem } from '../entry/index.ts';

interface CardFocus {
  readonly form: PreparedForm;
  /** The record of the card; undefined for a blank one. */
  readonly record: number | undefined;
  /** Set beside a list: the record whose card is to take the focus. */
  readonly wantsFocus: RefObject<number | undefined> | undefined;
  readonly mayWrite: boolean;
  /** How many saves the server has refused so far. */
  readonly refusals: number;
  /** The field in which the focus was when the card was saved; it outlives the card. */
  readonly focus: RefObject<string | undefined>;
}

/**
 * Keeps the focus where work goes on: in the first field of a blank card, where it was before a save, and at the first
 * problem after a refusal. Returns what remembers the focused field, to be called before a save.
 */
export function useCardFocus({ form, record, wantsFocus, mayWrite, refusals, focus }: CardFocus): () => void {
  const first = [...form.fields.values()].find((field) => field.placed && !field.readOnly)?.id;
  const seen = useRef(refusals);
  useEffect(() => {
    if (seen.current === refusals) return;
    seen.current = refusals;
    if (document.activeElement !== document.body) return;
    if (focus.current !== undefined) focusField(focus.current);
    focusFirstProblem();
  }, [refusals, focus]);
  // The card is drawn anew after a save, and for another record.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the card opens.
  useEffect(() => {
    const lost = document.activeElement === null || document.activeElement === document.body;
    if (record === undefined && first) focusField(first);
    else if (lost && mayWrite && focus.current !== undefined) focusField(focus.current);
    focus.current = undefined;
  }, []);
  useEffect(() => {
    if (!wantsFocus || record === undefined || wantsFocus.current !== record) return;
    wantsFocus.current = undefined;
    if (first) focusField(first);
  });
  return () => {
    const at = document.activeElement?.closest<HTMLElement>('[data-field]')?.dataset.field?.replace(/^f-/, '');
    focus.current = at ?? first;
    (document.activeElement as HTMLElement | null)?.blur();
  };
}
