import { type EntryState, fieldState, isRequired, openFailure, openRequest } from '@fiche/core/entry';
import type { PreparedField } from '@fiche/core/forms';

/** What the input of a field is shown with. */
export function viewOf(state: EntryState, field: PreparedField) {
  const { unparsed, choices, notice, origin, offer, conflict, ...own } = fieldState(state, field.id);
  const failure = openFailure(own);
  return {
    value: state.values[field.id] ?? null,
    unread: unparsed?.text,
    linked: state.linked[field.id],
    choices,
    waiting: openRequest(state, 'choices', field.id) !== undefined,
    notice: notice ?? failure?.message,
    required: isRequired(state, field),
    origin,
    offer,
    several: own.lookupFailure?.kind === 'several' ? own.lookupFailure.found : undefined,
    dispute: conflict,
    /** The table in which a key found nothing, where a record can be added for it. */
    lacking: failure?.kind === 'none' && failure.adds ? field.fill?.table : undefined,
  };
}
