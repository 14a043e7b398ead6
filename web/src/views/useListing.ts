import type { ViewView } from '@fiche/core/api';
import type { TableDefinition } from '@fiche/core/tables';
import { type Listing, listingSchema, listingSeenBy, plainListing } from '@fiche/core/views';
import { useState } from 'react';
import { useSearchParams } from 'react-router-dom';
import { useOffice } from '../client/index.ts';
import { ASKED, CARD } from './answersInAddress.ts';
import { listingOf, sameListing } from './listingDraft.ts';
import { narrowed, WHERE, whereIn, withoutWhere } from './whereInAddress.ts';

/** The choice of no view: all fields, all records. */
export const NO_VIEW = 'none';

/** Which time a calendar or lanes show, in an address. */
const IN_TIME = ['at', 'span'];

const placeOf = (table: string, view: number | undefined): string => `fiche.listing.${table}.${view ?? NO_VIEW}`;

/** What was changed in a listing without saving it: kept while the tab lives, so that it is there after a look at a record. */
function readDraft(place: string): Listing | undefined {
  try {
    const read = listingSchema.safeParse(JSON.parse(sessionStorage.getItem(place) ?? ''));
    return read.success ? read.data : undefined;
  } catch {
    return undefined;
  }
}

/**
 * What a table’s list shows: the view that the address names, or the one that the table opens on, with what was changed since. Of the
 * `past` what could be read then, and what was changed while looking at it; `unread` says that the view could not be.
 */
export function useListing(table: TableDefinition, views: readonly ViewView[], past = false) {
  const { tables } = useOffice();
  const [address, setAddress] = useSearchParams();
  const [, setDrafts] = useState(0);
  const named = address.get('view');
  const view = named === null ? views.find((one) => one.opens) : views.find((one) => named === String(one.id));
  const wanted = view ? listingOf(view) : plainListing(table);
  const readable = past ? listingSeenBy(wanted, table, tables) : wanted;
  const saved = readable ?? plainListing(table);
  const place = `${placeOf(table.id, view?.id)}${past ? '.past' : ''}`;
  const draft = readDraft(place);
  const where = whereIn(address);
  const changed = past && draft ? listingSeenBy(draft, table, tables) : draft;
  const listing = where ? narrowed(saved, where) : (changed ?? saved);
  /** What a chart led to is left once something else is shown. */
  const leaveWhere = (): void => {
    if (where) setAddress(withoutWhere, { replace: true });
  };
  return {
    view,
    unread: readable === undefined,
    listing,
    changed: !sameListing(listing, saved),
    /** Shows another listing, without saving it. */
    show(next: Listing): void {
      leaveWhere();
      if (sameListing(next, saved)) sessionStorage.removeItem(place);
      else sessionStorage.setItem(place, JSON.stringify(next));
      setDrafts((count) => count + 1);
    },
    /** Forgets what was not saved. */
    discard(): void {
      leaveWhere();
      sessionStorage.removeItem(place);
      setDrafts((count) => count + 1);
    },
    open(next: number | undefined): void {
      setAddress(
        (now) => {
          const to = new URLSearchParams(now);
          for (const gone of [ASKED, CARD, WHERE, ...IN_TIME]) to.delete(gone);
          to.set('view', next === undefined ? NO_VIEW : String(next));
          return to;
        },
        { replace: true },
      );
    },
  };
}
