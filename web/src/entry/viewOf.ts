import { type EntryState, isRequired, openRequest } from '@fiche/core/entry';
import type { PreparedField } from '@fiche/core/forms';

/** What the input of a field is shown with. */
export const viewOf = (state: EntryState, field: PreparedField) => ({
  value: state.values[field.id] ?? null,
  unread: state.unparsed[field.id]?.text,
  linked: state.linked[field.id],
  choices: state.choices[field.id],
  waiting: openRequest(state, 'choices', field.id) !== undefined,
  notice: state.notices[field.id] ?? state.lookupFailures[field.id]?.message,
  required: isRequired(state, field),
  origin: state.origins[field.id],
  offer: state.offers[field.id],
  several: state.ambiguousMatches[field.id],
  dispute: state.conflicts[field.id],
  /** The table in which a key found nothing, where a record can be added for it. */
  lacking: state.lookupFailures[field.id]?.adds && field.fill?.table,
});
