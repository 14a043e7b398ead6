import { type EntryStep, problemsOfStep, stepsOf } from '@fiche/core/entry';
import { useCallback, useEffect, useState } from 'react';
import { type Entry, focusFirstProblem } from '../entry/index.ts';

/** Where somebody is in a form that is filled in steps. */
export interface Steps {
  readonly step: EntryStep;
  /** Its place, from 0, and how many steps there are now. */
  readonly at: number;
  readonly count: number;
  readonly isLast: boolean;
  /** Goes on when the step has no problem; otherwise shows the first one. */
  next(): void;
  back(): void;
  /** Goes to the first step with a problem. Returns whether that is another one. */
  showFirstProblem(): boolean;
}

const placeOf = (): number => Number((window.history.state as { step?: unknown } | null)?.step ?? 0) || 0;

/**
 * The steps of a form; undefined where it is filled whole, or has only one. Where they are `inHistory`, the browser’s own Back
 * goes back a step. Whoever `resumes` earlier answers begins at the step where they were.
 */
export function useSteps(
  { state, dispatch }: Entry,
  stepped: boolean,
  inHistory: boolean,
  resumes: boolean,
): Steps | undefined {
  const [wanted, setWanted] = useState(() => (inHistory && resumes ? placeOf() : 0));
  useEffect(() => {
    if (!inHistory) return undefined;
    const follow = (): void => setWanted(placeOf());
    window.addEventListener('popstate', follow);
    return () => window.removeEventListener('popstate', follow);
  }, [inHistory]);
  const goTo = useCallback(
    (at: number): void => {
      if (inHistory) window.history.pushState({ step: at }, '');
      setWanted(at);
      requestAnimationFrame(() => document.getElementById('page-step')?.focus());
    },
    [inHistory],
  );
  const steps = stepped ? stepsOf(state) : [];
  const at = Math.min(wanted, steps.length - 1);
  const step = steps[at];
  if (!step || steps.length < 2) return undefined;
  return {
    step,
    at,
    count: steps.length,
    isLast: at === steps.length - 1,
    next() {
      dispatch({ type: 'stepLeft', items: step.items });
      if (problemsOfStep(state, step).length === 0) goTo(at + 1);
      else requestAnimationFrame(() => focusFirstProblem());
    },
    back: () => (inHistory ? window.history.back() : setWanted(at - 1)),
    showFirstProblem() {
      const first = steps.findIndex((one) => problemsOfStep(state, one).length > 0);
      if (first === -1 || first === at) return false;
      goTo(first);
      return true;
    },
  };
}
