import { type EntryEvent, type EntryProblem, isPresent, type SubformLine, visibleProblems } from '@fiche/core/entry';
import type { PreparedField, PreparedSubform } from '@fiche/core/forms';
import { useCallback } from 'react';
import type { LineCellProps, LineProps } from './lineProps.ts';

/** The columns of a subform in their order. */
export const columnsOf = (subform: PreparedSubform): PreparedField[] =>
  [...subform.form.fields.values()].filter((field) => field.placed);

/** Whether a line can be taken out: one that was saved, where its form may archive. */
export const mayGo = (subform: PreparedSubform, line: SubformLine): boolean =>
  line.state.opening.record === null || subform.form.definition.may.archive;

/** Whether a line can only be looked at: it was saved, and its form may not change what is there. */
export const isFixed = (subform: PreparedSubform, line: SubformLine): boolean =>
  line.state.opening.record !== null && !subform.form.definition.may.change;

/** The cells of a line, with the first thing that stands against each, and what stands against no cell of it. */
export function useLine({ dispatch, subform, line, at, onWhy, onAdd }: LineProps) {
  const { key, state } = line;
  const { id } = subform;
  const tell = useCallback(
    (event: EntryEvent): void => dispatch({ type: 'line', line: { subform: id, key }, event }),
    [dispatch, id, key],
  );
  const problems = new Map<string, EntryProblem>();
  // The blank line is none yet: nothing stands against it.
  for (const problem of isPresent(line) ? visibleProblems(state) : [])
    if (!problems.has(problem.path)) problems.set(problem.path, problem);
  const cell = (field: PreparedField): LineCellProps => ({
    state,
    field,
    subform: id,
    lineKey: key,
    n: at + 1,
    problem: problems.get(field.id),
    dispatch: tell,
    onWhy,
    onAdd,
  });
  return { cell, elsewhere: [...problems.values()].filter((one) => !state.form.fields.get(one.path)?.placed) };
}
