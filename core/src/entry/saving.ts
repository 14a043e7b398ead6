import type { Problem } from '../fields/index.ts';
import { counts, fieldsDirty } from './counting.ts';
import { ask, type Draft, own } from './draft.ts';
import { splitPath } from './linePath.ts';
import { pressLines, reduceLine } from './lines.ts';
import { problemsOf, reasonsGiven } from './problems.ts';
import { readable } from './readable.ts';
import { effectiveValues } from './scope.ts';
import type { EntryState, Line, SentLine, Submission } from './state.ts';
import { settleTyped } from './typing.ts';

/** What a save sends: every field that a person may fill. The server fills the rest by the same rules. */
export function submission(state: EntryState | Draft): Submission {
  const open = [...state.form.fields.values()].filter((field) => !field.readOnly);
  const values = effectiveValues(readable(state));
  const shown = [...state.form.subforms.keys()].filter((id) => !state.hidden[id]);
  return {
    values: Object.fromEntries(open.map((field) => [field.id, values[field.id] ?? null])),
    reasons: Object.fromEntries(reasonsGiven(state).map(({ rule, reason }) => [rule, reason])),
    picked: { ...state.picked },
    lines: Object.fromEntries(shown.map((id) => [id, (state.lines[id] ?? []).filter(counts).map(sentLine)])),
  };
}

function sentLine({ key, archived, state }: Line): SentLine {
  const { record } = state.opening;
  const saved = record ? { id: record.id, version: record.version } : {};
  if (archived) return { key, ...saved, archived };
  if (record && !fieldsDirty(state)) return { key, ...saved };
  const { values, reasons, picked } = submission(state);
  return { key, ...saved, values, reasons, picked };
}

/** A person has been everywhere: all that was typed takes effect, and all that is wrong shows. */
export function press(draft: Draft): void {
  for (const id of draft.form.fields.keys()) {
    own(draft, 'touched')[id] = true;
    settleTyped(draft, id);
  }
  draft.refusals = [];
  pressLines(draft);
}

/** What the server said, each at its place: in the form, or in one of its lines. */
export function refuse(draft: Draft, problems: readonly Problem[]): void {
  const there = (problem: Problem): boolean => {
    const line = splitPath(problem.path)?.line;
    return draft.lines[line?.subform ?? '']?.some((one) => one.key === line?.key) ?? false;
  };
  // A line that is not on the card, added by somebody else meanwhile, is spoken of at its subform.
  draft.refusals = problems
    .filter((problem) => !there(problem))
    .map((problem) => ({ ...problem, path: splitPath(problem.path)?.line.subform ?? problem.path }));
  for (const subform of draft.form.subforms.keys())
    for (const { key } of draft.lines[subform] ?? []) {
      const own = problems.flatMap((problem) => {
        const at = splitPath(problem.path);
        return at?.line.subform === subform && at.line.key === key ? [{ ...problem, path: at.path }] : [];
      });
      if (own.length > 0) reduceLine(draft, { subform, key }, { type: 'refused', problems: own });
    }
}

/** Sends the save once nothing is awaited any more, if nothing stands against it. */
export function sendIfSound(draft: Draft): void {
  const sound = problemsOf({ ...draft, phase: 'open' }).length === 0;
  draft.phase = sound ? 'saving' : 'open';
  if (sound) ask(draft, { kind: 'save', ...submission(draft) });
}
