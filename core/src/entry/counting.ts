import { sameValue } from '../fields/index.ts';
import type { PreparedField } from '../forms/index.ts';
import { isOff } from './readable.ts';
import type { EntryState, Line } from './state.ts';

type Typed = Pick<EntryState, 'form' | 'unread' | 'touched' | 'values' | 'original'>;

/** True when something was entered in the fields that is not saved. What is only calculated follows from it. */
export const fieldsDirty = (state: Typed): boolean =>
  Object.keys(state.unread).length > 0 || [...state.form.fields.values()].some((field) => isEntered(state, field));

const isEntered = (state: Typed, { id, calculation, beginsWith }: PreparedField): boolean =>
  !calculation && !(beginsWith && !state.touched[id]) && !sameValue(state.values[id], state.original[id]);

/**
 * True for a line that is there: saved before, or with something typed in it that will be saved. The blank line at the
 * end is not, nor is one in which only fields that are not shown now hold something.
 */
export const counts = ({ state }: Line): boolean =>
  state.opening.record !== null ||
  [...state.form.fields.values()].some(
    (field) => (state.unread[field.id] !== undefined || isEntered(state, field)) && !isOff(state, field.id),
  );

/** The lines of a subform that will be there after the save. */
export const linesIn = (state: Pick<EntryState, 'lines'>, subform: string): readonly Line[] =>
  (state.lines[subform] ?? []).filter((line) => counts(line) && !line.archived);

/** Whether anything was done to the lines of an entry that is not saved: typed, added, archived, moved. */
export function linesDirty(state: Pick<EntryState, 'form' | 'lines' | 'opening'>): boolean {
  return [...state.form.subforms.keys()].some((id) => {
    const lines = (state.lines[id] ?? []).filter(counts);
    const opened = state.opening.lines?.[id] ?? [];
    return (
      lines.length !== opened.length ||
      lines.some(
        (line, at) => line.archived || line.state.opening.record?.id !== opened[at]?.id || fieldsDirty(line.state),
      )
    );
  });
}
