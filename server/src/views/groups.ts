import type { ListedGroup } from '@fiche/core/api';
import type { Value } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { type TableDefinition, type Tables, targetTable, typeOf } from '@fiche/core/tables';
import { columnAt, type Listing } from '@fiche/core/views';
import type { Database, Transaction } from '../database/index.ts';
import { Refusal } from '../http/index.ts';
import { titlesOf } from '../records/index.ts';
import { AGGREGATES } from './aggregates.ts';
import { columnSql } from './columnSql.ts';
import type { Finding } from './places.ts';
import { keysOf } from './sorting.ts';

/** More groups than this are no overview. */
const MOST_GROUPS = 500;

/** The groups of a listing in order, each with its count and its summaries. Throws 422 where there are too many. */
export async function groupsOf(
  database: Database | Transaction,
  tables: Tables,
  table: TableDefinition,
  { columns, sort, group }: Listing,
  { from, where, values }: Finding,
): Promise<ListedGroup[]> {
  const path = group ?? '';
  const field = columnAt(tables, table.id, path)?.field;
  const [key] = keysOf(tables, table, { sort, group });
  if (!field || !key) throw new Error(`${path} is not a column of ${table.id}`);
  const target = tables.get(targetTable(field) ?? '');
  const summed = columns.flatMap(({ path: of, summary }) => (summary ? [{ path: of, summary }] : []));
  const read = summed.map(({ path: of }, at) => `, ${columnSql(tables, table, of)} AS "v:${at}"`);
  const taken = summed.map(({ summary }, at) => `, ${AGGREGATES[summary]}("v:${at}") AS "s:${at}"`);
  const direction = key.direction === 'up' ? 'ASC' : 'DESC';
  const { rows } = await database.raw<{ rows: ({ value: unknown; n: number } & Record<string, unknown>)[] }>(
    `SELECT value, count(*) AS n${taken.join('')} FROM (
       SELECT ${columnSql(tables, table, path)} AS value, ${key.sql} AS key${read.join('')} FROM ${from} WHERE ${where.join(' AND ')}) found
     GROUP BY value, key ORDER BY key${key.collation ? ` COLLATE ${key.collation}` : ''} ${direction} NULLS LAST, value ${direction} NULLS LAST LIMIT ?`,
    [...values, MOST_GROUPS + 1],
  );
  if (rows.length > MOST_GROUPS)
    throw new Refusal(
      422,
      say('{label} has more than {mostGroups} different values here. Group by another column, or filter first.', {
        label: columnAt(tables, table.id, path)?.label ?? path,
        mostGroups: MOST_GROUPS,
      }),
    );
  const linked = target
    ? rows.flatMap((row) => (row.value === null ? [] : [{ table: target.id, id: Number(row.value) }]))
    : [];
  const titles = await titlesOf(database, tables, linked);
  return rows.map((row) => ({
    value: row.value === null ? null : (typeOf(field).stored(row.value) as Value),
    title: target && row.value !== null ? (titles.get(`${target.id}:${row.value}`) ?? null) : null,
    count: Number(row.n),
    summaries: Object.fromEntries(summed.map(({ path: of }, at) => [of, (row[`s:${at}`] ?? null) as Value])),
  }));
}
