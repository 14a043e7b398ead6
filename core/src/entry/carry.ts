import { isBlank } from '../fields/index.ts';
import type { PreparedForm } from '../forms/index.ts';
import { deriveAll } from './derive.ts';
import { blankState } from './initial.ts';
import { keepBlank } from './lines.ts';
import { isPresent } from './presence.ts';
import { askFacts } from './questions.ts';
import { bringUpToDate, entryReducer } from './reduce.ts';
import type { EntryState, Step, SubformLines } from './state.ts';
import { fieldState, mutable, stepOf, updateField, type WorkingState, workingStateOf } from './workingState.ts';

/**
 * The same entry under a changed definition of its form: values of fields that still exist are kept. Used by the form
 * editor, whose card is live while it is edited.
 */
export function carryOver(form: PreparedForm, old: EntryState): Step {
  const working = workingStateOf({ ...blankState(form, old.opening), requestsMade: old.requestsMade }, entryReducer);
  for (const [id, field] of form.fields) {
    if (!old.form.fields.has(id) || (isBlank(old.values[id]) && !fieldState(old, id).touched)) continue;
    mutable(working, 'values')[id] = old.values[id] ?? null;
    updateField(working, id, { propagated: old.values[id] ?? null });
    if (old.linked[id]) mutable(working, 'linked')[id] = old.linked[id];
    if (fieldState(old, id).origin) updateField(working, id, { origin: fieldState(old, id).origin });
    if (fieldState(old, id).touched && field.placed) updateField(working, id, { touched: true });
  }
  working.linesMade = old.linesMade;
  working.lines = carryLines(working, old);
  for (const subform of form.subforms.values()) keepBlank(working, subform);
  deriveAll(working);
  askFacts(working);
  bringUpToDate(working);
  return stepOf(working);
}

const carryLines = (working: WorkingState, old: EntryState): SubformLines =>
  Object.fromEntries(
    [...working.form.subforms.values()].map((subform) => [
      subform.id,
      (old.lines[subform.id] ?? [])
        .filter((line) => isPresent(line) && line.state.form.table.id === subform.form.table.id)
        .map((line) => ({ ...line, state: carryOver(subform.form, line.state).state })),
    ]),
  );
