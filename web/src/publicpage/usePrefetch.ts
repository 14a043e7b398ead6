import { type EntryStep, stepsOf } from '@fiche/core/entry';
import type { FieldId } from '@fiche/core/tables';
import { useEffect } from 'react';
import type { Entry } from '../entry/index.ts';

/** The choices of the next step are asked for once nothing was entered for so long, in ms. */
const STILL_MS = 700;
/** The dropdowns of a step that are asked about ahead. */
const MOST = 6;

/** The dropdowns of a step whose choices nobody has asked for yet. */
function unasked({ form, fields, hidden }: Entry['state'], { items }: EntryStep): FieldId[] {
  return items
    .filter((id) => {
      const field = form.fields.get(id);
      return field?.source && !field.readOnly && !hidden[id] && !fields[id]?.choices;
    })
    .slice(0, MOST);
}

/** Fetches the choices of the step after the one that is shown, so that they are there when it is opened. */
export function usePrefetch({ state, dispatch }: Entry, at: number | undefined): void {
  const next = at === undefined ? undefined : stepsOf(state)[at + 1];
  const wanted = next ? unasked(state, next).join(' ') : '';
  // What is entered here narrows what is offered there: the wait begins anew with each change.
  const { values } = state;
  // biome-ignore lint/correctness/useExhaustiveDependencies: each change of a value starts the wait anew.
  useEffect(() => {
    if (wanted === '') return undefined;
    const wait = setTimeout(() => {
      for (const field of wanted.split(' ')) dispatch({ type: 'opened', field, search: '' });
    }, STILL_MS);
    return () => clearTimeout(wait);
  }, [wanted, values, dispatch]);
}
