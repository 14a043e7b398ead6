import type { ListedPage, ListedRecord } from '@fiche/core/api';
import { withAnswers } from '@fiche/core/conditions';
import type { Value } from '@fiche/core/fields';
import { conditionToSql, recordsOf } from '@fiche/core/queries';
import { type Asking, resolveRight } from '@fiche/core/rights';
import {
  type FieldDefinition,
  type RecordId,
  type TableDefinition,
  type Tables,
  targetTable,
  typeOf,
} from '@fiche/core/tables';
import { columnAt, type Listing, prepareCalculation } from '@fiche/core/views';
import type { Database, Transaction } from '../database/index.ts';
import { filterSql, listedRows, type RecordFilter, showTitle, titleSql } from '../records/index.ts';
import { AGGREGATES } from './aggregates.ts';
import { columnSql, isElsewhere } from './columnSql.ts';
import { groupsOf } from './groups.ts';
import { readCursor, wholeOrder } from './keyset.ts';
import { placesOf } from './places.ts';
import { directionOfEntry, keysOf } from './sorting.ts';

export interface RowsQuery extends RecordFilter {
  readonly listing: Listing;
  /** Where the page before ended. */
  readonly after?: string | undefined;
  /** Instead of `after`: the place of its first record, from 0. It costs an index’s entries up to there, or a scan. */
  readonly at?: number | undefined;
  readonly limit: number;
  /** False where the records are not counted, summed up and grouped, and the first page comes alone. */
  readonly counted?: boolean;
}

/** Who asks, and what else limits the records, as SQL over `r` without values. */
export interface Reader {
  readonly asking: Asking;
  readonly limit?: string | null;
}

/**
 * A page of a listing by keyset, so that every page costs about the same: the records that its filter, the words of a
 * search and the reader's rights leave, in its order. `tables` are those that the reader sees; the listing reads nothing
 * that is not in them (`listingSeenBy`).
 */
export async function listRows(
  database: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  { listing, after, at = 0, limit, counted = true, ...filter }: RowsQuery,
  reader: Reader,
): Promise<ListedPage> {
  const { where, values } = conditionsOf(tables, table, listing, filter, reader);
  // Counting costs more than a page does: it is done with the first one only.
  const totals =
    counted && after === undefined && at === 0 ? await totalsOf(database, tables, table, listing, where, values) : null;
  const keys = keysOf(tables, table, listing);
  const from = `${recordsOf(tables, table.id)} r ${keys.map((key) => key.join ?? '').join(' ')}`;
  const places = await placesOf(database, { from, where, values }, keys, {
    by: directionOfEntry(listing),
    cursor: readCursor(after, keys),
    at,
    limit: limit + 1,
  });
  const shown = places.slice(0, limit);
  const last = shown.at(-1);
  return {
    records: await recordsAt(
      database,
      tables,
      table,
      listing,
      shown.map((place) => place.id),
      reader.asking.now,
    ),
    after: places.length > limit && last ? JSON.stringify(last) : null,
    total: totals?.total ?? null,
    summaries: totals?.summaries ?? null,
    groups:
      totals && listing.group !== null
        ? await groupsOf(database, tables, table, listing, { from, where, values })
        : null,
  };
}

/** Records by number, in the order of the numbers, with what a listing shows and calculates of them at a moment. */
export async function recordsAt(
  database: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  listing: Listing,
  ids: readonly RecordId[],
  now: string,
): Promise<ListedRecord[]> {
  if (ids.length === 0) return [];
  const calculated = listing.columns.flatMap(({ path, calculation }) => {
    const prepared = calculation && prepareCalculation(path, calculation, table, tables);
    return prepared && !('wrong' in prepared) ? [{ path, ...prepared }] : [];
  });
  const shown = listing.columns.map((one) => one.path).filter(isElsewhere);
  const behind = [...new Set([...shown, ...calculated.flatMap((one) => one.reads.filter(isElsewhere))])];
  const { rows, records } = await listedRows(database, tables, table, {
    more: [`json_build_array(${behind.map((path) => behindSql(tables, table, path)).join(', ')}) AS "behind:"`],
    ids,
  });
  const read = new Map(
    records.map((record, at) => {
      const found = readBehind(tables, table, behind, rows[at]?.['behind:'] as [unknown, unknown][]);
      const valueAt = (path: string): Value => found[path]?.value ?? record.values[path] ?? null;
      const given = calculated.map(
        ({ path, calculate }) => [path, { value: calculate(valueAt, now), title: null }] as const,
      );
      const seen = shown.map((path) => [path, found[path] ?? { value: null, title: null }] as const);
      return [record.id, { ...record, behind: Object.fromEntries([...seen, ...given]) }];
    }),
  );
  return ids.flatMap((id) => read.get(id) ?? []);
}

/** The numbers of the records that a listing finds, in order of entry, after one of them. */
export async function listedIds(
  database: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  { listing, ...filter }: RecordFilter & { readonly listing: Listing },
  reader: Reader,
  { after, limit }: { readonly after: RecordId; readonly limit: number },
): Promise<RecordId[]> {
  const { where, values } = conditionsOf(tables, table, listing, filter, reader);
  const { rows } = await database.raw<{ rows: { id: RecordId }[] }>(
    `SELECT r.id FROM ${recordsOf(tables, table.id)} r WHERE ${where.join(' AND ')} AND r.id > ? ORDER BY r.id LIMIT ?`,
    [...values, after, limit],
  );
  return rows.map((row) => Number(row.id));
}

/** Records that are ranked for the place of one of them; more would make a card wait. */
const MOST_RANKED = 50_000;

/** Whether a listing finds few enough records for `placeInListing`. */
export async function isRanked(
  database: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  listing: Listing,
  reader: Reader,
): Promise<boolean> {
  const { where, values } = conditionsOf(tables, table, listing, { search: '', archived: 'no' }, reader);
  const { rows } = await database.raw<{ rows: { n: number }[] }>(
    `SELECT count(*) AS n FROM (SELECT FROM ${recordsOf(tables, table.id)} r WHERE ${where.join(' AND ')} LIMIT ?) found`,
    [...values, MOST_RANKED + 1],
  );
  return Number(rows[0]?.n) <= MOST_RANKED;
}

/** Where a record stands among those that a listing finds: its neighbours, and how many there are; undefined where it is not among them. */
export async function placeInListing(
  database: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  listing: Listing,
  reader: Reader,
  id: RecordId,
): Promise<ListedPlace | undefined> {
  const { where, values } = conditionsOf(tables, table, listing, { search: '', archived: 'no' }, reader);
  const keys = keysOf(tables, table, listing);
  const order = `ORDER BY ${wholeOrder(keys, directionOfEntry(listing))}`;
  const { rows } = await database.raw<{ rows: (ListedPlace & { id: RecordId })[] }>(
    `SELECT * FROM (
       SELECT r.id, row_number() OVER ranked AS position, count(*) OVER () AS total,
         lag(r.id) OVER ranked AS previous, lead(r.id) OVER ranked AS next,
         first_value(r.id) OVER whole AS first, last_value(r.id) OVER whole AS last
       FROM ${recordsOf(tables, table.id)} r ${keys.map((key) => key.join ?? '').join(' ')} WHERE ${where.join(' AND ')}
       WINDOW ranked AS (${order}), whole AS (${order} ROWS BETWEEN UNBOUNDED PRECEDING AND UNBOUNDED FOLLOWING)) ranked
     WHERE id = ?`,
    [...values, id],
  );
  const [row] = rows;
  if (!row) return undefined;
  const { id: _id, ...place } = row;
  return place;
}

/** A record’s place among others, from 1, and the numbers of those around it. */
export interface ListedPlace {
  readonly position: number;
  readonly total: number;
  readonly previous: RecordId | null;
  readonly next: RecordId | null;
  readonly first: RecordId | null;
  readonly last: RecordId | null;
}

/** The numbers of a page of records of a listing, in its order, with where the next page goes on. */
export async function listedPage(
  database: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  listing: Listing,
  reader: Reader,
  { after, at = 0, limit }: { readonly after?: string | undefined; readonly at?: number; readonly limit: number },
): Promise<{ ids: RecordId[]; after: string | null }> {
  const { where, values } = conditionsOf(tables, table, listing, { search: '', archived: 'no' }, reader);
  const keys = keysOf(tables, table, listing);
  const from = `${recordsOf(tables, table.id)} r ${keys.map((key) => key.join ?? '').join(' ')}`;
  const wanted = { by: directionOfEntry(listing), cursor: readCursor(after, keys), at, limit: limit + 1 };
  const places = await placesOf(database, { from, where, values }, keys, wanted);
  const last = places[limit - 1];
  return {
    ids: places.slice(0, limit).map((place) => place.id),
    after: places.length > limit && last ? JSON.stringify(last) : null,
  };
}

/** How many records a listing finds. */
export async function countListed(
  database: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  { listing, ...filter }: RecordFilter & { readonly listing: Listing },
  reader: Reader,
): Promise<number> {
  const { where, values } = conditionsOf(tables, table, listing, filter, reader);
  return (await totalsOf(database, tables, table, { ...listing, columns: [] }, where, values)).total;
}

/** Conditions over `r`, to be joined by AND, with their values in order. */
export function conditionsOf(
  tables: Tables,
  table: TableDefinition,
  listing: Listing,
  filter: RecordFilter,
  { asking, limit = null }: Reader,
): { where: string[]; values: (string | number)[] } {
  const { where, values } = filterSql(tables, table, filter);
  // What nobody has answered narrows nothing.
  const own = conditionToSql(tables, table.id, 'r', resolveRight(withAnswers(listing.filter, []), asking));
  where.push(own.text);
  values.push(...(own.values as (string | number)[]));
  if (limit !== null) where.push(limit);
  return { where, values };
}

/** Lines of the ledger from one transaction on and before another; all of them are over. */
export interface LineSpan {
  readonly from: number;
  readonly to: number;
}

/** How many records of a listing others than `login` have added or changed in a span of the ledger, and who was the last. */
export async function changedInSpan(
  database: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  listing: Listing,
  reader: Reader,
  { from, to }: LineSpan,
): Promise<{ count: number; by: string } | undefined> {
  const { where, values } = conditionsOf(tables, table, listing, { search: '', archived: 'no' }, reader);
  const { rows } = await database.raw<{ rows: { n: number; by: string | null }[] }>(
    `SELECT count(DISTINCT l.record) AS n, (array_agg(l.account ORDER BY l.id DESC))[1] AS by
     FROM ledger.line l JOIN ${recordsOf(tables, table.id)} r ON r.id = l.record::bigint
     WHERE l.place = ? AND l.transaction >= ? AND l.transaction < ? AND l.account <> ? AND ${where.join(' AND ')}`,
    [`data.${table.id}`, from, to, reader.asking.account, ...values],
  );
  const [found] = rows;
  return found && found.n > 0 && found.by !== null ? { count: found.n, by: found.by } : undefined;
}

/** How many records there are, and what stands under the columns that have a summary: over all of them, in one question. */
async function totalsOf(
  database: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  { columns }: Listing,
  where: readonly string[],
  values: readonly (string | number)[],
): Promise<{ total: number; summaries: Record<string, Value> }> {
  const summed = columns.flatMap(({ path, summary }) => (summary ? [{ path, summary }] : []));
  const taken = summed.map(
    ({ path, summary }, at) => `, ${AGGREGATES[summary]}(${columnSql(tables, table, path)}) AS "s:${at}"`,
  );
  const { rows } = await database.raw<{ rows: ({ n: number } & Record<string, unknown>)[] }>(
    `SELECT count(*) AS n${taken.join('')} FROM ${recordsOf(tables, table.id)} r WHERE ${where.join(' AND ')}`,
    [...values],
  );
  const [row] = rows;
  return {
    total: row?.n ?? 0,
    summaries: Object.fromEntries(summed.map(({ path }, at) => [path, (row?.[`s:${at}`] ?? null) as Value])),
  };
}

const linkedTitle = (tables: Tables, target: TableDefinition, link: string): string =>
  `SELECT ${titleSql(tables, target, 'v_linked')} FROM ${recordsOf(tables, target.id)} v_linked WHERE v_linked.id = ${link}`;

/** A value behind links and, where it is a link itself, the title of its record: a JSON pair. */
export function behindSql(tables: Tables, table: TableDefinition, path: string): string {
  const field = columnAt(tables, table.id, path)?.field;
  const target = tables.get(targetTable(field) ?? '');
  const value = columnSql(tables, table, path);
  return `json_build_array(${value}, ${target ? `(${linkedTitle(tables, target, value)})` : 'NULL'})`;
}

const readBehind = (
  tables: Tables,
  table: TableDefinition,
  paths: readonly string[],
  found: readonly [unknown, unknown][],
): ListedRecord['behind'] =>
  Object.fromEntries(
    paths.map((path, at) => {
      const field = columnAt(tables, table.id, path)?.field as FieldDefinition;
      const [value = null, title = null] = found[at] ?? [];
      const target = tables.get(targetTable(field) ?? '');
      return [
        path,
        {
          value: value === null ? null : (typeOf(field).stored(value) as Value),
          title: value === null || !target ? null : showTitle(tables, target, title),
        },
      ];
    }),
  );
