import { presentLines } from './presence.ts';
import type { EntryState } from './state.ts';
import { showValue } from './workingState.ts';

/** What was answered in a field, or in a line of a subform, as people read it. */
export interface Answered {
  readonly label: string;
  readonly value: string;
}

/** What was answered, in the order of the form: what is hidden, or blank, is left out; a line is told in one. */
export function answeredWords(state: EntryState): Answered[] {
  const { fields, subforms } = state.form;
  const shown = (one: EntryState, field: string): string => (one.hidden[field] ? '' : showValue(one, field));
  const own = [...fields.values()].flatMap(({ id, label, placed }): Answered[] => {
    const value = placed ? shown(state, id) : '';
    return value === '' ? [] : [{ label, value }];
  });
  const lines = [...subforms.values()].flatMap(({ id, label, form }): Answered[] =>
    state.hidden[id]
      ? []
      : presentLines(state, id).flatMap((line) => {
          const values = [...form.fields.values()].filter((one) => one.placed).map((one) => shown(line.state, one.id));
          const said = values.filter((value) => value !== '');
          return said.length === 0 ? [] : [{ label, value: said.join(', ') }];
        }),
  );
  return [...own, ...lines];
}
