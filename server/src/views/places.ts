import type { Database, Transaction } from '../database/index.ts';
import { type Cursor, type SortKey, segmentsOf } from './keyset.ts';

/** Records of a table, under their conditions, as SQL. */
export interface Finding {
  /** What stands behind FROM: the records are `r`. */
  readonly from: string;
  readonly where: readonly string[];
  readonly values: readonly (string | number)[];
}

/** Which records of a list are wanted: so many after a cursor or from a place on. */
interface PlacesWanted {
  /** The direction of entry, in which equals stand. */
  readonly by: 'up' | 'down';
  readonly cursor: Cursor | undefined;
  readonly at: number;
  readonly limit: number;
}

/** The records of a page, by number and by what they are sorted by: what a cursor needs, and no more is read of those that are skipped. */
export async function placesOf(
  database: Database | Transaction,
  { from, where, values }: Finding,
  keys: readonly SortKey[],
  { by, cursor, at, limit }: PlacesWanted,
): Promise<Cursor[]> {
  const taken = keys.map((key, n) => `, (${key.sql})::text AS "key:${n}"`).join('');
  const places: Cursor[] = [];
  let skip = cursor ? 0 : at;
  for (const segment of segmentsOf(keys, by, cursor)) {
    const conditions = `FROM ${from} WHERE ${[...where, segment.where].join(' AND ')}`;
    const bound = [...values, ...segment.values];
    const { rows } = await database.raw<{ rows: Record<string, string | number | null>[] }>(
      `SELECT r.id${taken} ${conditions} ORDER BY ${segment.order} OFFSET ? LIMIT ?`,
      [...bound, skip, limit - places.length],
    );
    places.push(
      ...rows.map((row) => ({
        keys: keys.map((_key, n) => (row[`key:${n}`] ?? null) as string | null),
        id: Number(row.id),
      })),
    );
    if (places.length === limit) break;
    if (skip > 0 && rows.length === 0) {
      // What is skipped goes on in the next part.
      const counted = await database.raw<{ rows: { n: number }[] }>(`SELECT count(*) AS n ${conditions}`, bound);
      skip -= Number(counted.rows[0]?.n ?? 0);
    } else skip = 0;
  }
  return places;
}
