import {
  type ColumnCalculation,
  isCalculated,
  type Listing,
  MOST_FROZEN,
  NARROWEST,
  type Summary,
  type ViewSort,
  WIDEST,
} from '@fiche/core/views';

/** Whether two listings show the same. */
export const sameListing = (one: Listing, other: Listing): boolean =>
  JSON.stringify(plainly(one)) === JSON.stringify(plainly(other));

/** A listing with its parts in one order. */
const plainly = ({ columns, filter, sort, frozen, group, shown }: Listing): unknown => [
  columns.map(({ path, summary, width, calculation }) => [path, summary, width, calculation]),
  filter,
  sort,
  frozen,
  group,
  shown,
];

/** The listing part of a view. */
export const listingOf = ({ columns, filter, sort, frozen, group, shown }: Listing): Listing => ({
  columns,
  filter,
  sort,
  frozen,
  group,
  shown,
});

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
  columns: listing.columns.map((one) => {
    if (one.path !== path) return one;
    const { summary: _before, ...bare } = one;
    return summary ? { ...bare, summary } : bare;
  }),
});

/** With other widths of columns by path, in px. */
export const withWidths = (listing: Listing, widths: Readonly<Record<string, number>>): Listing => ({
  ...listing,
  columns: listing.columns.map((one) => {
    const width = widths[one.path];
    return width === undefined ? one : { ...one, width: Math.max(NARROWEST, Math.min(WIDEST, Math.round(width))) };
  }),
});

/** With all columns as wide as their types want. */
export const withoutWidths = (listing: Listing): Listing => ({
  ...listing,
  columns: listing.columns.map(({ width: _width, ...one }) => one),
});

/** With another number of columns that stay in sight. */
export const withFrozen = (listing: Listing, frozen: number): Listing => ({
  ...listing,
  frozen: Math.max(0, Math.min(MOST_FROZEN, frozen)),
});

/** With another sort at a place; undefined takes it out. */
export const withSort = (listing: Listing, at: number, sort: ViewSort | undefined): Listing => ({
  ...listing,
  sort: [...listing.sort.slice(0, at), ...(sort ? [sort] : []), ...listing.sort.slice(at + 1)],
});

/** With another calculation of a column; without a path, or where there is no such column, with a new column at the end. */
export function withCalculation(listing: Listing, path: string, calculation: ColumnCalculation): Listing {
  if (listing.columns.some((one) => one.path === path))
    return { ...listing, columns: listing.columns.map((one) => (one.path === path ? { ...one, calculation } : one)) };
  const numbers = listing.columns.map((one) => (isCalculated(one.path) ? Number(one.path.slice(1)) : 0));
  return { ...listing, columns: [...listing.columns, { path: `=${Math.max(0, ...numbers) + 1}`, calculation }] };
}
