import { z } from 'zod';

/** What a list is sorted by, as SQL. */
export interface SortKey {
  readonly sql: string;
  /** The PostgreSQL type of `sql`, to read a value of a cursor by. */
  readonly type: string;
  /** The collation of text, such as `fiche.natural`. */
  readonly collation?: string;
  readonly direction: 'up' | 'down';
  /** What is joined to the records `r` for it. */
  readonly join?: string;
}

export interface Cursor {
  /** The values of the sort keys of the last record of a page, as PostgreSQL writes them. */
  readonly keys: readonly (string | null)[];
  readonly id: number;
}

const cursorSchema = z.strictObject({
  keys: z.array(z.string().max(2_000).nullable()).max(8),
  id: z.int().min(1),
});

/** Reads where a page ended; undefined for what no page of this sorting has said. */
export function readCursor(after: string | undefined, keys: readonly SortKey[]): Cursor | undefined {
  if (after === undefined) return undefined;
  try {
    const read = cursorSchema.safeParse(JSON.parse(after));
    return read.success && read.data.keys.length === keys.length ? read.data : undefined;
  } catch {
    return undefined;
  }
}

const collated = ({ sql, collation }: SortKey): string => (collation ? `${sql} COLLATE ${collation}` : sql);
const castValue = ({ type, collation }: SortKey): string => `?::${type}${collation ? ` COLLATE ${collation}` : ''}`;

const ascending = (direction: 'up' | 'down'): string => (direction === 'up' ? 'ASC' : 'DESC');
const sign = (direction: 'up' | 'down'): string => (direction === 'up' ? '>' : '<');

/** A part of a list as SQL over `r`: its records come before those of the next part. */
export interface Segment {
  readonly where: string;
  readonly values: readonly (string | number)[];
  readonly order: string;
}

/** ORDER BY for a whole list: blanks come last in both directions. */
export const wholeOrder = (keys: readonly SortKey[], by: 'up' | 'down'): string =>
  [...keys.map((key) => `${collated(key)} ${ascending(key.direction)} NULLS LAST`), `r.id ${ascending(by)}`].join(', ');

/**
 * The parts of a list in this order, from its beginning or from a cursor on; blanks come last in both directions, and equals are
 * in the order of entry, in the direction `by`. A list that
 * one key sorts has its blanks as a part of their own, so that an index on the key and the id serves either part: the
 * condition is one comparison of rows, and the order is the index's own, forwards or backwards.
 */
export function segmentsOf(keys: readonly SortKey[], by: 'up' | 'down', cursor: Cursor | undefined): Segment[] {
  const byId = `r.id ${ascending(by)}`;
  const [only] = keys;
  if (!only || keys.length > 1 || only.direction !== by) {
    const order = wholeOrder(keys, by);
    const after = cursor ? afterSql(keys, by, cursor) : { text: 'TRUE', values: [] };
    return [{ where: after.text, values: after.values, order }];
  }
  const last = cursor?.keys[0] ?? null;
  const blanks = (after: number | undefined): Segment => ({
    where: `${only.sql} IS NULL${after === undefined ? '' : ` AND r.id ${sign(by)} ?`}`,
    values: after === undefined ? [] : [after],
    order: byId,
  });
  if (cursor && last === null) return [blanks(cursor.id)];
  const valued: Segment = {
    where: `${only.sql} IS NOT NULL${cursor ? ` AND (${collated(only)}, r.id) ${sign(by)} (${castValue(only)}, ?)` : ''}`,
    values: cursor && last !== null ? [last, cursor.id] : [],
    order: `${collated(only)} ${ascending(by)}, ${byId}`,
  };
  return [valued, blanks(undefined)];
}

/** The condition on records `r` that come after a cursor in the order of several keys, with its values. */
function afterSql(
  keys: readonly SortKey[],
  by: 'up' | 'down',
  cursor: Cursor,
): { text: string; values: (string | number)[] } {
  return keys.reduceRight<{ text: string; values: (string | number)[] }>(
    (rest, key, at) => {
      const last = cursor.keys[at] ?? null;
      if (last === null) return { text: `(${key.sql} IS NULL AND ${rest.text})`, values: rest.values };
      return {
        text: `(${collated(key)} ${sign(key.direction)} ${castValue(key)} OR ${key.sql} IS NULL OR (${collated(key)} = ${castValue(key)} AND ${rest.text}))`,
        values: [last, last, ...rest.values],
      };
    },
    { text: `r.id ${sign(by)} ?`, values: [cursor.id] },
  );
}
