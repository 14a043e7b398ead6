/** Which records a list shows, as its page’s address says: what is found, and whether archived ones. */
export function recordFilterOf(address: URLSearchParams): { search: string; archived: 'yes' | 'no' } {
  return { search: address.get('find') ?? '', archived: address.get('archived') === 'yes' ? 'yes' : 'no' };
}

/** The address with another filter. */
export function withFilter(
  address: URLSearchParams,
  change: { search?: string; archived?: 'yes' | 'no' },
): URLSearchParams {
  const next = new URLSearchParams(address);
  const set = (key: string, value: string | undefined, none: string): void => {
    if (value === undefined) return;
    if (value === none) next.delete(key);
    else next.set(key, value);
  };
  set('find', change.search, '');
  set('archived', change.archived, 'no');
  return next;
}
