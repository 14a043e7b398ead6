import type { ChainedLine } from './chain.ts';

/** What the lines of one record add up to. */
export interface Told {
  /** The captured columns by name, without blanks; undefined where the lines say that the record is not there. */
  readonly state: ReadonlyMap<string, unknown> | undefined;
  /** The lines that say when, and by whom, the record was made and last changed. */
  readonly first: ChainedLine;
  readonly last: ChainedLine;
}

type Columns = Record<string, unknown>;
const columnsIn = (json: string | null): Columns => (json === null ? {} : (JSON.parse(json) as Columns));

/**
 * Adds up the lines of one record, in the order of their ids: a line that adds says all that is there, one that changes
 * says what a column became, and a column that it names only under *before* became blank.
 */
export function told(before: Told | undefined, line: ChainedLine): Told {
  const first = before?.first ?? line;
  if (line.kind === 'erase')
    return { state: undefined, first, last: line.version === null && before ? before.last : line };
  const state = columnsAfter(
    line.kind === 'add' ? undefined : before?.state,
    columnsIn(line.before),
    columnsIn(line.after),
  );
  // A record that is added again after its erasure begins anew.
  return { state, first: line.kind === 'add' ? line : first, last: line };
}

/** The columns after a line, without blanks: a column that the line names only as it was became blank. */
export function columnsAfter(
  state: ReadonlyMap<string, unknown> | undefined,
  before: Readonly<Columns> | null,
  after: Readonly<Columns> | null,
): Map<string, unknown> {
  const next = new Map(state);
  for (const name of Object.keys(before ?? {})) next.delete(name);
  for (const [name, value] of Object.entries(after ?? {}))
    if (value === null) next.delete(name);
    else next.set(name, value);
  return next;
}

const INSTANT = /^\d{4,}-\d\d-\d\dT[\d:.]+[+-]\d\d(:\d\d)?$/;

/** Whether two captured values are the same; moments are, whatever the time zone of the session that wrote them. */
export function sameCaptured(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a === 'string' && typeof b === 'string')
    return INSTANT.test(a) && INSTANT.test(b) && Date.parse(a) === Date.parse(b);
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const [left, right] = [Object.entries(a), b as Columns];
  return (
    left.length === Object.keys(right).length &&
    left.every(([key, value]) => key in right && sameCaptured(value, right[key]))
  );
}

/**
 * The first column in which a row differs from what its lines add up to; undefined when none does. `alternatives` names,
 * for a column that is being converted to another type, the column that is being filled to take its place: either will do.
 */
export function differingColumn(
  state: ReadonlyMap<string, unknown>,
  row: Readonly<Columns>,
  alternatives: ReadonlyMap<string, string> = new Map(),
): string | undefined {
  const filling = new Set(alternatives.values());
  const alike = (name: string): boolean => {
    const next = alternatives.get(name);
    const [told, there] = [state.get(name) ?? null, row[name] ?? null];
    return sameCaptured(told, there) || (next !== undefined && sameCaptured(told, row[next] ?? null));
  };
  return [...Object.keys(row), ...state.keys()].find((name) => !filling.has(name) && !alike(name));
}
