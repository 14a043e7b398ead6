import { counts, type EntryEvent, type EntryProblem, type Line, visibleProblems } from '@fiche/core/entry';
import type { PreparedField, PreparedSubform } from '@fiche/core/forms';
import { useCallback } from 'react';
import type { Entry } from '../useEntry.ts';

/** The columns of a subform in their order. */
export const columnsOf = (subform: PreparedSubform): PreparedField[] =>
  [...subform.form.fields.values()].filter((field) => field.placed);

/** How a line is told what happens in it, and the first thing that stands against each of its cells. */
export function useLine(dispatch: Entry['dispatch'], subform: string, line: Line) {
  const { key, state } = line;
  const tell = useCallback(
    (event: EntryEvent): void => dispatch({ type: 'line', line: { subform, key }, event }),
    [dispatch, subform, key],
  );
  const problems = new Map<string, EntryProblem>();
  // The blank line is none yet: nothing stands against it.
  for (const problem of counts(line) ? visibleProblems(state) : [])
    if (!problems.has(problem.path)) problems.set(problem.path, problem);
  const elsewhere = [...problems.values()].filter((one) => !state.form.fields.get(one.path)?.placed);
  return { tell, problems, elsewhere };
}
