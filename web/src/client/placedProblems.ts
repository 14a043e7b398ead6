import { say } from '@fiche/core/languages';
import { ServerProblem } from './http.ts';

/** What a refused form says: the messages at its fields, by name, and what is said above or below them all. */
export interface PlacedProblems {
  readonly at: Readonly<Record<string, string>>;
  /** `''` where every message has its field. */
  readonly trouble: string;
}

export const NO_PROBLEMS: PlacedProblems = { at: {}, trouble: '' };

/** Puts the problems of a refused request at the fields that a form has. */
export function placedProblems(error: unknown, names: readonly string[]): PlacedProblems {
  const errors = error instanceof ServerProblem ? error.document.errors : [];
  const placed = errors.filter((one) => names.includes(one.path));
  return {
    at: Object.fromEntries(placed.map((one) => [one.path, one.message])),
    trouble: placed.length === 0 ? (error as Error).message : '',
  };
}

/** The fields that are blank, as problems: `Name is required.` */
export const blankProblems = (
  values: Readonly<Record<string, string | undefined>>,
  labels: Readonly<Record<string, string>>,
): PlacedProblems => ({
  at: Object.fromEntries(
    Object.entries(labels).flatMap(([name, label]) =>
      (values[name] ?? '').trim() === '' ? [[name, say('{label} is required.', { label })]] : [],
    ),
  ),
  trouble: '',
});

/** Puts the focus on the first field that has a problem; its input has the field’s name as its id. */
export function focusFirst({ at }: PlacedProblems, idOf: (name: string) => string = (name) => name): void {
  const [first] = Object.keys(at);
  if (first !== undefined) document.getElementById(idOf(first))?.focus();
}
