import { isDirty, splitPath, visibleProblems } from '@fiche/core/entry';
import { say, sayCount } from '@fiche/core/languages';
import Button from '@mui/material/Button';
import { useContext } from 'react';
import { cardCss } from '../parts/index.ts';
import { focusField, PlaceContext, placeName } from './focus.ts';
import type { Entry } from './useEntry.ts';

/**
 * What stands against saving, each a jump to its field; shown once Save was pressed. Rules that ask stand below. With `items`
 * those of these fields and subforms only: of a step that was to be left.
 */
export function ProblemList({ entry, items }: { entry: Entry; items?: readonly string[] | undefined }) {
  const { state } = entry;
  const prefix = useContext(PlaceContext);
  const isThere = (path: string): boolean => !items || items.includes(splitPath(path)?.line.subform ?? path);
  const placed = [...state.form.fields.values()].filter(
    (field) => field.placed && !state.hidden[field.id] && isThere(field.id),
  );
  const problems = visibleProblems(state).filter(
    (problem) =>
      !problem.asks &&
      isThere(problem.path) &&
      (state.fields[problem.path]?.touched || !state.form.fields.get(problem.path)?.placed),
  );
  const pressed = placed.length > 0 && placed.every((field) => state.fields[field.id]?.touched);
  if (!pressed || problems.length === 0) return null;
  return (
    <section data-problems className={cardCss.problems} aria-label={say('Problems')}>
      <h2>{sayCount(problems.length, 'One problem to correct', '{count} problems to correct')}</h2>
      <ul>
        {problems.map((problem) => (
          <li key={`${problem.path} ${problem.rule}`}>
            <Button variant="text" onClick={() => focusField(prefix + problem.path)}>
              {placeName(state, problem.path)}
            </Button>
            : {problem.message}
          </li>
        ))}
      </ul>
    </section>
  );
}

export const hasUnsavedWork = (entry: Entry): boolean => isDirty(entry.state);
