import { type Item, isField, isSubform, itemKey, type Section } from '../forms/index.ts';
import { splitPath } from './linePath.ts';
import { type EntryProblem, problemsOf } from './problems.ts';
import type { EntryState } from './state.ts';

/** A step of a long form: one of its sections. */
export interface EntryStep {
  /** The id of the section. */
  readonly id: string;
  readonly label: string;
  /** Its fields and subforms. */
  readonly items: readonly string[];
}

/** Whether an item of a section is shown now: fields by their own conditions, words and cards while a field beside them is shown. */
export function isItemShown(state: EntryState, { shownWhen, items }: Section, item: Item): boolean {
  if (isSubform(item)) return state.form.subforms.has(item.id) && !state.hidden[item.id];
  if (isField(item)) return state.form.fields.has(item.field) && !state.hidden[item.field];
  const fields = items.filter(isField);
  return shownWhen === null || fields.length === 0 || fields.some((one) => !state.hidden[one.field]);
}

/** The steps of a form as it is filled now: the sections of which something is shown. */
export const stepsOf = (state: EntryState): EntryStep[] =>
  state.form.definition.sections.flatMap((section) =>
    section.items.some((item) => isItemShown(state, section, item))
      ? [
          {
            id: section.id,
            label: section.label,
            items: section.items.filter((item) => isField(item) || isSubform(item)).map(itemKey),
          },
        ]
      : [],
  );

/** The problems that stand in a step, those of its lines included. A rule of the whole form counts where it is shown. */
export function problemsOfStep(state: EntryState, { items }: EntryStep): EntryProblem[] {
  const there = new Set(items);
  return problemsOf(state).filter(({ path }) => there.has(splitPath(path)?.line.subform ?? path));
}
