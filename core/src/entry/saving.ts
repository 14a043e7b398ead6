import type { Problem } from '../fields/index.ts';
import { OPEN } from './initial.ts';
import { splitPath } from './linePath.ts';
import { reduceLine, touchAllLines } from './lines.ts';
import { fieldsDirty, isPresent } from './presence.ts';
import { problemsOf, reasonsGiven } from './problems.ts';
import { readable } from './readable.ts';
import { effectiveValues } from './scope.ts';
import type { EntryState, SentLine, SubformLine, Submission } from './state.ts';
import { propagateTyped } from './typing.ts';
import { askToSave, updateField, type WorkingState } from './workingState.ts';

/** What a save sends: every field that a person may fill. The server fills the rest by the same rules. */
export function submission(state: EntryState | WorkingState): Submission {
  const open = [...state.form.fields.values()].filter((field) => !field.readOnly);
  const values = effectiveValues(readable(state));
  const shown = [...state.form.subforms.keys()].filter((id) => !state.hidden[id]);
  return {
    values: Object.fromEntries(open.map((field) => [field.id, values[field.id] ?? null])),
    reasons: Object.fromEntries(reasonsGiven(state).map(({ rule, reason }) => [rule, reason])),
    picked: pickedIn(state),
    lines: Object.fromEntries(shown.map((id) => [id, (state.lines[id] ?? []).filter(isPresent).map(sentLine)])),
  };
}

/** The records that were chosen where a key found several, by field. */
const pickedIn = (state: Pick<EntryState, 'fields'>): Submission['picked'] =>
  Object.fromEntries(
    Object.entries(state.fields).flatMap(([id, { picked }]) => (picked === undefined ? [] : [[id, picked]])),
  );

function sentLine({ key, archived, state }: SubformLine): SentLine {
  const { record } = state.opening;
  const saved = record ? { id: record.id, version: record.version } : {};
  if (archived) return { key, ...saved, archived };
  if (record && !fieldsDirty(state)) return { key, ...saved };
  const { values, reasons, picked } = submission(state);
  return { key, ...saved, values, reasons, picked };
}

/** Marks every field as touched, so that all problems are shown, and propagates what was typed; with `items` of those only. */
export function touchAll(working: WorkingState, items?: readonly string[]): void {
  for (const id of working.form.fields.keys()) {
    if (items && !items.includes(id)) continue;
    updateField(working, id, { touched: true });
    propagateTyped(working, id);
  }
  working.refusals = [];
  touchAllLines(working, items);
}

/** Puts the problems of a refused save where they belong: in the form, or in one of its lines. */
export function placeRefusals(working: WorkingState, problems: readonly Problem[]): void {
  const there = (problem: Problem): boolean => {
    const line = splitPath(problem.path)?.line;
    return working.lines[line?.subform ?? '']?.some((one) => one.key === line?.key) ?? false;
  };
  // A problem of a line that is not open here, because somebody else added it, is shown at its subform.
  working.refusals = problems
    .filter((problem) => !there(problem))
    .map((problem) => ({ ...problem, path: splitPath(problem.path)?.line.subform ?? problem.path }));
  for (const subform of working.form.subforms.keys())
    for (const { key } of working.lines[subform] ?? []) {
      const own = problems.flatMap((problem) => {
        const at = splitPath(problem.path);
        return at?.line.subform === subform && at.line.key === key ? [{ ...problem, path: at.path }] : [];
      });
      if (own.length > 0) reduceLine(working, { subform, key }, { type: 'refused', problems: own });
    }
}

/** Sends the save if there is no problem; called when no request is open any more. */
export function saveIfValid(working: WorkingState): void {
  const sound = problemsOf(working).length === 0;
  if (sound) askToSave(working, submission(working));
  else working.phase = OPEN;
}
