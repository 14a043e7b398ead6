import type { Listing, Summary, ViewSort } from '@fiche/core/views';

/** Whether two listings show the same. */
export const sameListing = (one: Listing, other: Listing): boolean =>
  JSON.stringify([one.columns, one.filter, one.sort]) === JSON.stringify([other.columns, other.filter, other.sort]);

/** The listing part of a view. */
export const listingOf = ({ columns, filter, sort }: Listing): Listing => ({ columns, filter, sort });

/** Sorted by one column alone: ascending, or the other way where it sorts already. */
export function sortedBy(listing: Listing, path: string): Listing {
  const [first] = listing.sort;
  const direction = first?.path === path && first.direction === 'up' ? 'down' : 'up';
  return { ...listing, sort: [{ path, direction }] };
}

/** With a column at another place. */
export function withColumnAt(listing: Listing, from: number, to: number): Listing {
  const columns = [...listing.columns];
  const [moved] = columns.splice(from, 1);
  if (moved) columns.splice(to, 0, moved);
  return { ...listing, columns };
}

export const withColumn = (listing: Listing, path: string): Listing => ({
  ...listing,
  columns: [...listing.columns, { path }],
});

export const withoutColumn = (listing: Listing, path: string): Listing => ({
  ...listing,
  columns: listing.columns.filter((one) => one.path !== path),
});

/** With another summary under a column; undefined for none. */
export const withSummary = (listing: Listing, path: string, summary: Summary | undefined): Listing => ({
  ...listing,
  columns: listing.columns.map((one) => (one.path === path ? { path, ...(summary ? { summary } : {}) } : one)),
});

/** With another sort at a place; undefined takes it out. */
export const withSort = (listing: Listing, at: number, sort: ViewSort | undefined): Listing => ({
  ...listing,
  sort: [...listing.sort.slice(0, at), ...(sort ? [sort] : []), ...listing.sort.slice(at + 1)],
});
