import { all, type Group, groupSchema } from '@fiche/core/conditions';
import { AS_LIST, type Listing } from '@fiche/core/views';

/** The name of further conditions in an address: what a chart or a calendar leads to. */
export const WHERE = 'where';

/** The further conditions that an address has; undefined where it has none, or none that can be read. */
export function whereIn(address: URLSearchParams): Group | undefined {
  try {
    const read = groupSchema.safeParse(JSON.parse(address.get(WHERE) ?? ''));
    return read.success ? read.data : undefined;
  } catch {
    return undefined;
  }
}

export function withoutWhere(address: URLSearchParams): URLSearchParams {
  const next = new URLSearchParams(address);
  next.delete(WHERE);
  return next;
}

/** A listing as a list of the records that further conditions leave of it. */
export const narrowed = (listing: Listing, where: Group): Listing => ({
  ...listing,
  filter: joined(listing.filter, where),
  shown: AS_LIST,
});

/** Both conditions; conditions that all hold stand in one row. */
function joined(one: Group, other: Group): Group {
  const parts = (group: Group) => (group.match === 'all' ? group.of : [group]);
  return all(...parts(one), ...parts(other));
}

/** The address of the list of a table, or of a view of it, with the records that further conditions leave. */
export function addressOfRecords(
  path: string,
  {
    view,
    where,
    address,
  }: { readonly view: number | undefined; readonly where: Group; readonly address?: URLSearchParams },
): string {
  const to = new URLSearchParams(view === undefined ? { view: 'none' } : { view: String(view) });
  // Answers, a search and the moment of the past hold for what is led to as well.
  for (const kept of ['asked', 'find', 'archived', 'asOf', 'linking']) {
    const value = address?.get(kept);
    if (value != null) to.set(kept, value);
  }
  to.set(WHERE, JSON.stringify(where));
  return `${path}?${to}`;
}
