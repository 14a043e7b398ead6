/** Which records a list shows: those that a search finds, archived ones or those in use. */
export interface RecordFilter {
  readonly search: string;
  readonly archived: 'yes' | 'no';
  /** The moment of the past that the records are shown as of. */
  readonly asOf?: string;
}

/** The filter that a page’s address says. */
export function recordFilterOf(address: URLSearchParams): RecordFilter {
  const asOf = address.get('asOf');
  return {
    search: address.get('find') ?? '',
    archived: address.get('archived') === 'yes' ? 'yes' : 'no',
    ...(asOf === null ? {} : { asOf }),
  };
}

/** The address with another filter. */
export function withFilter(address: URLSearchParams, change: Partial<RecordFilter>): URLSearchParams {
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
