/** The states of something that is edited, before and after the one that is shown. */
export interface Steps<T> {
  /** The oldest first. */
  readonly past: readonly T[];
  /** The next one first. */
  readonly future: readonly T[];
}

/** Where there is nothing to undo or redo. */
export const NO_STEPS: Steps<never> = { past: [], future: [] };

const MOST_STEPS = 100;

/** The steps after a change of what was shown; what was undone before is given up. */
export const stepOn = <T>({ past }: Steps<T>, shown: T): Steps<T> => ({
  past: [...past, shown].slice(-MOST_STEPS),
  future: [],
});

/** The state before the one that is shown, with the steps from there; undefined at the first one. */
export function stepBack<T>({ past, future }: Steps<T>, shown: T): { steps: Steps<T>; shown: T } | undefined {
  const last = past.at(-1);
  return last === undefined
    ? undefined
    : { steps: { past: past.slice(0, -1), future: [shown, ...future] }, shown: last };
}

/** The state that was undone last, with the steps from there; undefined when none was. */
export function stepForward<T>({ past, future }: Steps<T>, shown: T): { steps: Steps<T>; shown: T } | undefined {
  const [next, ...rest] = future;
  return next === undefined
    ? undefined
    : { steps: { past: [...past, shown].slice(-MOST_STEPS), future: rest }, shown: next };
}
