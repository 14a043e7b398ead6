import { isBlank } from '../fields/index.ts';
import type { PreparedForm } from '../forms/index.ts';
import { counts } from './counting.ts';
import { deriveAll } from './derive.ts';
import { type Draft, draftOf, own, stepOf } from './draft.ts';
import { blankState } from './initial.ts';
import { keepBlank } from './lines.ts';
import { askFacts, bringUpToDate, entryReducer } from './reduce.ts';
import type { EntryState, Lines, Step } from './state.ts';

/**
 * The same entry under a changed definition of its form: values of fields that are still there stay. For the form editor,
 * where the card being edited is live.
 */
export function carryOver(form: PreparedForm, old: EntryState): Step {
  const draft = draftOf({ ...blankState(form, old.opening), requestsMade: old.requestsMade }, entryReducer);
  for (const [id, field] of form.fields) {
    if (!old.form.fields.has(id) || (isBlank(old.values[id]) && !old.touched[id])) continue;
    own(draft, 'values')[id] = old.values[id] ?? null;
    own(draft, 'settled')[id] = old.values[id] ?? null;
    if (old.linked[id]) own(draft, 'linked')[id] = old.linked[id];
    if (old.origins[id]) own(draft, 'origins')[id] = old.origins[id];
    if (old.touched[id] && field.placed) own(draft, 'touched')[id] = true;
  }
  draft.linesMade = old.linesMade;
  draft.lines = carryLines(draft, old);
  for (const subform of form.subforms.values()) keepBlank(draft, subform);
  deriveAll(draft);
  askFacts(draft);
  bringUpToDate(draft);
  return stepOf(draft);
}

const carryLines = (draft: Draft, old: EntryState): Lines =>
  Object.fromEntries(
    [...draft.form.subforms.values()].map((subform) => [
      subform.id,
      (old.lines[subform.id] ?? [])
        .filter((line) => counts(line) && line.state.form.table.id === subform.form.table.id)
        .map((line) => ({ ...line, state: carryOver(subform.form, line.state).state })),
    ]),
  );
