import type { ViewView } from '@fiche/core/api';
import type { TableDefinition } from '@fiche/core/tables';
import { type Listing, listingSchema, plainListing } from '@fiche/core/views';
import { useState } from 'react';
import { useSearchParams } from 'react-router-dom';
import { ASKED, CARD } from './answersInAddress.ts';
import { listingOf, sameListing } from './listingDraft.ts';

/** The choice of no view: all fields, all records. */
export const NO_VIEW = 'none';

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

/** What a table’s list shows: the view that the address names, or the one that the table opens on, with what was changed since. */
export function useListing(table: TableDefinition, views: readonly ViewView[]) {
  const [address, setAddress] = useSearchParams();
  const [, setDrafts] = useState(0);
  const named = address.get('view');
  const view = named === null ? views.find((one) => one.opens) : views.find((one) => named === String(one.id));
  const saved = view ? listingOf(view) : plainListing(table);
  const place = placeOf(table.id, view?.id);
  const draft = readDraft(place);
  const listing = draft ?? saved;
  return {
    view,
    listing,
    changed: !sameListing(listing, saved),
    /** Shows another listing, without saving it. */
    show(next: Listing): void {
      if (sameListing(next, saved)) sessionStorage.removeItem(place);
      else sessionStorage.setItem(place, JSON.stringify(next));
      setDrafts((count) => count + 1);
    },
    /** Forgets what was not saved. */
    discard(): void {
      sessionStorage.removeItem(place);
      setDrafts((count) => count + 1);
    },
    open(next: number | undefined): void {
      setAddress(
        (now) => {
          const to = new URLSearchParams(now);
          for (const gone of [ASKED, CARD]) to.delete(gone);
          to.set('view', next === undefined ? NO_VIEW : String(next));
          return to;
        },
        { replace: true },
      );
    },
  };
}
