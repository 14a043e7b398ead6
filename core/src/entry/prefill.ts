import { reduceEntry } from './reduce.ts';
import type { EntryState, Request, Step } from './state.ts';

/**
 * Fills fields of an entry that has just been opened from texts by field, such as those of an address (`?harbour=Tern Cove`):
 * each is read as if a person had pasted it. Names that are no fields which can be written here are left out.
 */
export function prefilled(opened: EntryState, texts: Readonly<Record<string, string>>): Step {
  let state = opened;
  const requests: Request[] = [];
  // Parents come before what they narrow.
  const fields = state.form.wiring.order.filter((id) => texts[id] !== undefined);
  for (const field of fields) {
    const prepared = state.form.fields.get(field);
    if (!prepared?.placed || prepared.readOnly) continue;
    const step = reduceEntry(state, { type: 'textMatched', field, text: (texts[field] ?? '').slice(0, 1_000) });
    state = step.state;
    requests.push(...step.requests);
  }
  return { state, requests };
}
