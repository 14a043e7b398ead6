import {
  type Conflict,
  type EntryEvent,
  type EntryState,
  type FoundRecord,
  type Offer,
  showValue,
} from '@fiche/core/entry';
import { isBlank } from '@fiche/core/fields';
import type { PreparedField } from '@fiche/core/forms';
import { typeOf } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { ruledCss, textCss } from '../parts/index.ts';

/** What somebody else wrote, in words. */
const theirs = ({ value, title }: Conflict, field: PreparedField): string =>
  title ?? (isBlank(value) ? 'nothing' : typeOf(field.field).format(value, field.field.settings));

/**
 * What is left to a person: a value beside one that is there, several records that a key found or none,
 * or what somebody else wrote meanwhile.
 */
export function AskedHere({
  state,
  field,
  offer,
  several,
  dispute,
  lacking,
  dispatch,
  onAdd,
}: {
  state: EntryState;
  field: PreparedField;
  offer?: Offer;
  several?: readonly FoundRecord[];
  dispute?: Conflict;
  /** The table in which a key found nothing. */
  lacking?: string;
  dispatch(event: EntryEvent): void;
  /** Adds a record for the key, for those who may. */
  onAdd?(): void;
}) {
  const adds = lacking !== undefined && onAdd !== undefined;
  if (!offer && !several && !dispute && !adds) return null;
  const by = offer && (state.form.fields.get(offer.origin.by)?.label ?? offer.origin.by);
  const offered =
    offer?.linked?.title ??
    (isBlank(offer?.value) ? 'blank' : typeOf(field.field).format(offer?.value ?? null, field.field.settings));
  return (
    <div className={ruledCss.ask} role="group" aria-label={`To decide at ${field.label}`}>
      {offer && (
        <>
          {by} {offer.origin.title} says <strong>{offered}</strong>; here stands{' '}
          <strong>{showValue(state, field.id)}</strong>.{' '}
          <Button variant="text" onClick={() => dispatch({ type: 'offerAnswered', field: field.id, take: true })}>
            Take {offered}
          </Button>{' '}
          <Button variant="text" onClick={() => dispatch({ type: 'offerAnswered', field: field.id, take: false })}>
            Keep {showValue(state, field.id)}
          </Button>
        </>
      )}
      {adds && (
        <Button variant="text" onClick={onAdd}>
          Add it to {state.form.tables.get(lacking)?.label}
        </Button>
      )}
      {dispute && (
        <>
          {dispute.by} wrote <strong>{theirs(dispute, field)}</strong>; here stands{' '}
          <strong>{showValue(state, field.id) || 'nothing'}</strong>.{' '}
          <Button variant="text" onClick={() => dispatch({ type: 'conflictDecided', field: field.id, theirs: true })}>
            Take {theirs(dispute, field)}
          </Button>{' '}
          <Button variant="text" onClick={() => dispatch({ type: 'conflictDecided', field: field.id, theirs: false })}>
            Keep {showValue(state, field.id) || 'it blank'}
          </Button>
        </>
      )}
      {several?.map((one) => (
        <Button
          key={one.id}
          variant="text"
          onClick={() => dispatch({ type: 'matchPicked', field: field.id, id: one.id })}
        >
          {one.title} <span className={textCss.faded}>no. {one.id}</span>
        </Button>
      ))}
    </div>
  );
}
