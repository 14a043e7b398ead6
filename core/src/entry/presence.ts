import { sameValue } from '../fields/index.ts';
import type { PreparedField } from '../forms/index.ts';
import { isExcluded } from './readable.ts';
import type { EntryState, SubformLine } from './state.ts';
import { fieldState } from './workingState.ts';

type Typed = Pick<EntryState, 'form' | 'fields' | 'values' | 'original'>;

/** True when a field has an unsaved value. Calculated fields are left out: they follow from the others. */
export const fieldsDirty = (state: Typed): boolean =>
  [...state.form.fields.values()].some((field) => isUnparsed(state, field) || isEntered(state, field));

const isUnparsed = (state: Typed, { id }: PreparedField): boolean => fieldState(state, id).unparsed !== undefined;

const isEntered = (state: Typed, { id, calculation, beginsWith }: PreparedField): boolean =>
  !calculation && !(beginsWith && !fieldState(state, id).touched) && !sameValue(state.values[id], state.original[id]);

/**
 * True for a line that is saved, or that will be because something was entered in it. False for the blank line at the end,
 * and for a line in which only hidden fields have values.
 */
export const isPresent = ({ state }: SubformLine): boolean =>
  state.opening.record !== null ||
  [...state.form.fields.values()].some(
    (field) => (isUnparsed(state, field) || isEntered(state, field)) && !isExcluded(state, field.id),
  );

/** The lines that a subform will have after the save. */
export const presentLines = (state: Pick<EntryState, 'lines'>, subform: string): readonly SubformLine[] =>
  (state.lines[subform] ?? []).filter((line) => isPresent(line) && !line.archived);

/** True when lines have unsaved changes: a value, an added, archived or moved line. */
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
