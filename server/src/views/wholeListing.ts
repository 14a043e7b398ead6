import type { ListedRecord } from '@fiche/core/api';
import { recordsOf } from '@fiche/core/queries';
import type { RecordId, TableDefinition, Tables } from '@fiche/core/tables';
import type { Listing } from '@fiche/core/views';
import type { Transaction } from '../database/index.ts';
import type { RecordFilter } from '../records/index.ts';
import { wholeOrder } from './keyset.ts';
import { conditionsOf, type Reader, recordsAt } from './rows.ts';
import { directionOfEntry, keysOf } from './sorting.ts';

/** A list that is read as a whole; `by` is the direction of entry, in which equals stand. */
export type WholeQuery = RecordFilter & { readonly listing: Listing; readonly by?: 'up' | 'down' };

/**
 * All records of a listing in its order, so many at a time, out of a transaction that reads one snapshot: sorted once, whatever they
 * are sorted by, and read by a cursor.
 */
export async function* wholeListing(
  snapshot: Transaction,
  tables: Tables,
  table: TableDefinition,
  { listing, by = directionOfEntry(listing), ...filter }: WholeQuery,
  reader: Reader,
  step: number,
): AsyncGenerator<ListedRecord[]> {
  const { where, values } = conditionsOf(tables, table, listing, filter, reader);
  const keys = keysOf(tables, table, listing);
  const from = `${recordsOf(tables, table.id)} r ${keys.map((key) => key.join ?? '').join(' ')}`;
  // All of it will be fetched: a plan that only begins quickly would take longer.
  await snapshot.raw('SET LOCAL cursor_tuple_fraction = 1');
  await snapshot.raw(
    `DECLARE listed NO SCROLL CURSOR FOR SELECT r.id FROM ${from} WHERE ${where.join(' AND ')} ORDER BY ${wholeOrder(keys, by)}`,
    values,
  );
  for (;;) {
    const { rows } = await snapshot.raw<{ rows: { id: RecordId }[] }>(`FETCH ${step} FROM listed`);
    if (rows.length === 0) return;
    const ids = rows.map((row) => Number(row.id));
    yield await recordsAt(snapshot, tables, table, listing, ids, reader.asking.now);
    if (rows.length < step) return;
  }
}
