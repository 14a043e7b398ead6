import { z } from 'zod';

/** What a list is sorted by, as SQL. */
export interface SortKey {
  readonly sql: string;
  /** The PostgreSQL type of `sql`, to read a value of a cursor by. */
  readonly type: string;
  /** The collation of text, such as `fiche.natural`. */
  readonly collation?: string;
  readonly direction: 'up' | 'down';
}

interface Cursor {
  /** The values of the sort keys of the last record of a page, as PostgreSQL writes them. */
  readonly keys: readonly (string | null)[];
  readonly id: number;
}

const cursorSchema = z.strictObject({
  keys: z.array(z.string().max(2_000).nullable()).max(5),
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

/** Equals are in the order of entry, in the direction of the first key; without keys the newest come first. */
const idDirection = ([first]: readonly SortKey[]): 'up' | 'down' => first?.direction ?? 'down';

/** ORDER BY for the records `r`: blanks come last in both directions. */
export const orderSql = (keys: readonly SortKey[]): string =>
  [
    ...keys.map((key) => `${collated(key)} ${key.direction === 'up' ? 'ASC' : 'DESC'} NULLS LAST`),
    `r.id ${idDirection(keys) === 'up' ? 'ASC' : 'DESC'}`,
  ].join(', ');

/** The condition on records `r` that come after a cursor in this order, with its values. */
export function afterSql(keys: readonly SortKey[], cursor: Cursor): { text: string; values: (string | number)[] } {
  const sign = (direction: 'up' | 'down'): string => (direction === 'up' ? '>' : '<');
  const [only] = keys;
  const value = cursor.keys[0];
  // One comparison of rows, which an index on the key and the id serves.
  if (only && keys.length === 1 && value != null)
    return {
      text: `((${collated(only)}, r.id) ${sign(only.direction)} (${castValue(only)}, ?) OR ${only.sql} IS NULL)`,
      values: [value, cursor.id],
    };
  return keys.reduceRight<{ text: string; values: (string | number)[] }>(
    (rest, key, at) => {
      const last = cursor.keys[at] ?? null;
      if (last === null) return { text: `(${key.sql} IS NULL AND ${rest.text})`, values: rest.values };
      return {
        text: `(${collated(key)} ${sign(key.direction)} ${castValue(key)} OR ${key.sql} IS NULL OR (${collated(key)} = ${castValue(key)} AND ${rest.text}))`,
        values: [last, last, ...rest.values],
      };
    },
    { text: `r.id ${sign(idDirection(keys))} ?`, values: [cursor.id] },
  );
}
