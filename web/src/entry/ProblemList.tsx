import { isDirty, visibleProblems } from '@fiche/core/entry';
import { useContext } from 'react';
import { focusField, PlaceContext, placeName } from './places.ts';
import type { Entry } from './useEntry.ts';

/** What stands against saving, each a jump to its field; shown once Save was pressed. Rules that ask stand below. */
export function ProblemList({ entry }: { entry: Entry }) {
  const { state } = entry;
  const prefix = useContext(PlaceContext);
  const placed = [...state.form.fields.values()].filter((field) => field.placed && !state.hidden[field.id]);
  const problems = visibleProblems(state).filter(
    (problem) => !problem.asks && (state.touched[problem.path] || !state.form.fields.get(problem.path)?.placed),
  );
  const pressed = placed.length > 0 && placed.every((field) => state.touched[field.id]);
  if (!pressed || problems.length === 0) return null;
  return (
    <section className="problem-list" aria-label="What to mend">
      <h2>{problems.length === 1 ? 'One thing to mend' : `${problems.length} things to mend`}</h2>
      <ul>
        {problems.map((problem) => (
          <li key={`${problem.path} ${problem.rule}`}>
            <button type="button" className="link" onClick={() => focusField(prefix + problem.path)}>
              {placeName(state, problem.path)}
            </button>
            : {problem.message}
          </li>
        ))}
      </ul>
    </section>
  );
}

export const hasUnsavedWork = (entry: Entry): boolean => isDirty(entry.state);
