import { type EntryEvent, type EntryState, type Found, type Offer, showValue } from '@fiche/core/entry';
import { isBlank } from '@fiche/core/fields';
import type { PreparedField } from '@fiche/core/forms';
import { typeOf } from '@fiche/core/tables';

/** What a fill leaves to a person: a value beside one that is there, or several records that a key found. */
export function AskedHere({
  state,
  field,
  offer,
  several,
  dispatch,
}: {
  state: EntryState;
  field: PreparedField;
  offer?: Offer;
  several?: readonly Found[];
  dispatch(event: EntryEvent): void;
}) {
  const by = offer && (state.form.fields.get(offer.origin.by)?.label ?? offer.origin.by);
  const offered =
    offer?.linked?.title ??
    (isBlank(offer?.value) ? 'blank' : typeOf(field.field).format(offer?.value ?? null, field.field.settings));
  return (
    <div className="ruled-ask" role="group" aria-label={`To decide at ${field.label}`}>
      {offer && (
        <>
          {by} {offer.origin.title} says <strong>{offered}</strong>; here stands{' '}
          <strong>{showValue(state, field.id)}</strong>.{' '}
          <button
            type="button"
            className="link"
            onClick={() => dispatch({ type: 'answered', field: field.id, take: true })}
          >
            Take {offered}
          </button>{' '}
          <button
            type="button"
            className="link"
            onClick={() => dispatch({ type: 'answered', field: field.id, take: false })}
          >
            Keep {showValue(state, field.id)}
          </button>
        </>
      )}
      {several?.map((one) => (
        <button
          key={one.id}
          type="button"
          className="link"
          onClick={() => dispatch({ type: 'picked', field: field.id, id: one.id })}
        >
          {one.title} <span className="faded">no. {one.id}</span>
        </button>
      ))}
    </div>
  );
}
