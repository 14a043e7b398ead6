import { sameValue } from '../fields/index.ts';
import type { PreparedField } from '../forms/index.ts';
import { isExcluded } from './readable.ts';
import type { EntryState, SubformLine } from './state.ts';

type Typed = Pick<EntryState, 'form' | 'unparsed' | 'touched' | 'values' | 'original'>;

/** True when something was entered in the fields that is not saved. What is only calculated follows from it. */
export const fieldsDirty = (state: Typed): boolean =>
  Object.keys(state.unparsed).length > 0 || [...state.form.fields.values()].some((field) => isEntered(state, field));

const isEntered = (state: Typed, { id, calculation, beginsWith }: PreparedField): boolean =>
  !calculation && !(beginsWith && !state.touched[id]) && !sameValue(state.values[id], state.original[id]);

/**
 * True for a line that is there: saved before, or with something typed in it that will be saved. The blank line at the
 * end is not, nor is one in which only fields that are not shown now hold something.
 */
export const isPresent = ({ state }: SubformLine): boolean =>
  state.opening.record !== null ||
  [...state.form.fields.values()].some(
    (field) => (state.unparsed[field.id] !== undefined || isEntered(state, field)) && !isExcluded(state, field.id),
  );

/** The lines of a subform that will be there after the save. */
export const presentLines = (state: Pick<EntryState, 'lines'>, subform: string): readonly SubformLine[] =>
  (state.lines[subform] ?? []).filter((line) => isPresent(line) && !line.archived);

/** Whether anything was done to the lines of an entry that is not saved: typed, added, archived, moved. */
export function linesDirty(state: Pick<EntryState, 'form' | 'lines' | 'opening'>): boolean {
  return [...state.form.subforms.keys()].some((id) => {
    const lines = (state.lines[id] ?? []).filter(isPresent);
    const opened = state.opening.lines?.[id] ?? [];
    return (
      lines.length !== opened.length ||
      lines.some(
        (line, at) => line.archived || line.state.opening.record?.id !== opened[at]?.id || fieldsDirty(line.state),
      )
    );
  });
}
