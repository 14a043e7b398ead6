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
import { say } from '@fiche/core/languages';
import { typeOf } from '@fiche/core/tables';
import Button from '@mui/material/Button';
import { Fragment } from 'react';
import { ruledCss, textCss } from '../parts/index.ts';

/** What somebody else wrote, in words. */
const theirs = ({ value, title }: Conflict, field: PreparedField): string =>
  title ?? (isBlank(value) ? say('nothing') : typeOf(field.field).format(value, field.field.settings));

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
    (isBlank(offer?.value) ? say('blank') : typeOf(field.field).format(offer?.value ?? null, field.field.settings));
  return (
    <div className={ruledCss.ask} role="group" aria-label={say('To decide at {field}', { field: field.label })}>
      {offer && (
        <>
          <InBold
            text={say('{field} {title} says {value}; here stands {own}.', {
              field: by ?? '',
              title: offer.origin.title,
              value: BOLD,
              own: BOLD,
            })}
            parts={[offered, showValue(state, field.id)]}
          />{' '}
          <Button variant="text" onClick={() => dispatch({ type: 'offerAnswered', field: field.id, take: true })}>
            {say('Take {value}', { value: offered })}
          </Button>{' '}
          <Button variant="text" onClick={() => dispatch({ type: 'offerAnswered', field: field.id, take: false })}>
            {say('Keep {value}', { value: showValue(state, field.id) })}
          </Button>
        </>
      )}
      {adds && (
        <Button variant="text" onClick={onAdd}>
          {say('Add it to {table}', { table: state.form.tables.get(lacking)?.label ?? '' })}
        </Button>
      )}
      {dispute && (
        <>
          <InBold
            text={say('{name} wrote {value}; here stands {own}.', { name: dispute.by, value: BOLD, own: BOLD })}
            parts={[theirs(dispute, field), showValue(state, field.id) || say('nothing')]}
          />{' '}
          <Button variant="text" onClick={() => dispatch({ type: 'conflictDecided', field: field.id, theirs: true })}>
            {say('Take {value}', { value: theirs(dispute, field) })}
          </Button>{' '}
          <Button variant="text" onClick={() => dispatch({ type: 'conflictDecided', field: field.id, theirs: false })}>
            {say('Keep {value}', { value: showValue(state, field.id) || say('it blank') })}
          </Button>
        </>
      )}
      {several?.map((one) => (
        <Button
          key={one.id}
          variant="text"
          onClick={() => dispatch({ type: 'matchPicked', field: field.id, id: one.id })}
        >
          {one.title} <span className={textCss.faded}>{say('no. {number}', { number: one.id })}</span>
        </Button>
      ))}
    </div>
  );
}

/** Stands in a text where a part of it is set in bold. */
const BOLD = '\u0001';

/** A text whose marked places hold parts in bold, in their order. */
const InBold = ({ text, parts }: { readonly text: string; readonly parts: readonly string[] }) =>
  text.split(BOLD).map((piece, at) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: the pieces of a text have no other name.
    <Fragment key={at}>
      {at > 0 && <strong>{parts[at - 1]}</strong>}
      {piece}
    </Fragment>
  ));
