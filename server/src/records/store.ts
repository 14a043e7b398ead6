import type { RecordView } from '@fiche/core/api';
import type { LinkedRecord } from '@fiche/core/entry';
import { linksOne, linksSeveral, type Value } from '@fiche/core/fields';
import { say, sayLater } from '@fiche/core/languages';
import { isPast, quoted, recordsOf } from '@fiche/core/queries';
import {
  type FieldDefinition,
  fieldAtPath,
  findField,
  linkedTable,
  type RecordId,
  type TableDefinition,
  type TableId,
  type Tables,
  targetTable,
  typeOf,
  writeTitle,
} from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';
import { notFound, unacceptable } from '../http/index.ts';
import { factsSql, readFacts } from './facts.ts';
import { linkingSql } from './links.ts';
import { choiceSearchSql, searchSql } from './search.ts';
import { showTitle, titleSql } from './titles.ts';

export type Queryable = Database | Transaction;
export type Row = Record<string, unknown>;

/** What a reader wants to know of the records that a link field points at. */
export type WantedFacts = (field: FieldDefinition) => readonly string[];

const NO_FACTS: WantedFacts = () => [];

const KEPT = ['id', 'version', 'created_at', 'created_by', 'changed_at', 'changed_by', 'archived_at'];

/** All columns of a table by name: the audit fields, then its own. */
export const columnsOf = (table: TableDefinition, prefix = ''): string =>
  [...KEPT, ...table.fields.map((field) => field.id)].map((column) => `${prefix}${quoted(column)}`).join(', ');

function selectSql(tables: Tables, table: TableDefinition, wanted: WantedFacts): string {
  const own = columnsOf(table, 'r.');
  const linked = table.fields.flatMap((field) => {
    const target = tables.get(targetTable(field) ?? '');
    if (!target) return [];
    const alias = `l_${field.id}`.slice(0, 40);
    if (linksSeveral(field))
      return [
        `(SELECT json_agg(json_build_array(${alias}.id, ${titleSql(tables, target, alias)}) ORDER BY array_position(r.${quoted(field.id)}, ${alias}.id)) FROM ${recordsOf(tables, target.id)} ${alias} WHERE ${alias}.id = ANY(r.${quoted(field.id)})) AS "titles:${field.id}"`,
      ];
    const paths = wanted(field).filter((path) => fieldAtPath(tables, target.id, path) !== undefined);
    const facts = factsSql(tables, target.id, alias, paths);
    return [
      `(SELECT json_build_array(${titleSql(tables, target, alias)}, ${facts}) FROM ${recordsOf(tables, target.id)} ${alias} WHERE ${alias}.id = r.${quoted(field.id)}) AS "linked:${field.id}"`,
    ];
  });
  return [own, ...linked].join(', ');
}

/** What stands for a linked record that is there, and that the role does not see. */
const UNSEEN = sayLater('a record that you do not see');

/** What a row says of the records that it links to. */
function linkedOf(tables: Tables, table: TableDefinition, row: Row): Record<string, LinkedRecord> {
  const linked: Record<string, LinkedRecord> = {};
  for (const field of table.fields) {
    const target = tables.get(linkedTable(field) ?? '');
    const found = row[`linked:${field.id}`] as [unknown, Record<string, unknown>] | null | undefined;
    if (target && found)
      linked[field.id] = { title: showTitle(tables, target, found[0]), facts: readFacts(tables, target.id, found[1]) };
    else if (linksOne(field) && typeof row[field.id] === 'number') linked[field.id] = { title: say(UNSEEN), facts: {} };
    const several = linksSeveral(field) ? tables.get(targetTable(field) ?? '') : undefined;
    const titles = row[`titles:${field.id}`] as [number, unknown][] | null | undefined;
    const ids = linksSeveral(field) ? ((row[field.id] ?? []) as number[]) : [];
    if (ids.length > 0) {
      const known = new Map(titles?.map(([id, raw]) => [id, several ? showTitle(tables, several, raw) : say(UNSEEN)]));
      const shown = ids.map((id): [string, string] => [String(id), known.get(id) ?? say(UNSEEN)]);
      linked[field.id] = {
        title: shown.map(([, title]) => title).join(', '),
        facts: {},
        titles: Object.fromEntries(shown),
      };
    }
  }
  return linked;
}

export function viewOf(table: TableDefinition, row: Row, linked: Readonly<Record<string, LinkedRecord>>): RecordView {
  const stamp = {
    createdAt: String(row.created_at),
    createdBy: String(row.created_by),
    changedAt: String(row.changed_at),
    changedBy: String(row.changed_by),
  };
  return {
    id: Number(row.id),
    version: Number(row.version),
    title: table.title === null ? `#${row.id}` : titleOf(table, row, linked),
    values: Object.fromEntries(table.fields.map((field) => [field.id, (row[field.id] ?? null) as Value])),
    linked: linked as RecordView['linked'],
    stamp,
    archived: row.archived_at !== null,
  };
}

const titleOf = (table: TableDefinition, row: Row, linked: Readonly<Record<string, LinkedRecord>>): string =>
  writeTitle(
    table,
    (field) => (row[field.id] ?? null) as Value,
    (field) => linked[field.id]?.title ?? '',
  );

const tableOf = (tables: Tables, id: string): TableDefinition => {
  const table = tables.get(id);
  if (!table) throw notFound(say('This table'));
  return table;
};

/** One record, with the titles and wanted facts of what it links to. Locked for this transaction when asked. */
export async function findRecord(
  database: Queryable,
  tables: Tables,
  tableId: TableId,
  id: number,
  wanted: WantedFacts = NO_FACTS,
  lock = false,
): Promise<RecordView> {
  const table = tableOf(tables, tableId);
  const { rows } = Number.isSafeInteger(id)
    ? await database.raw<{ rows: Row[] }>(
        `SELECT ${selectSql(tables, table, wanted)} FROM ${recordsOf(tables, tableId)} r WHERE r.id = ?${lock ? ' FOR UPDATE OF r' : ''}`,
        [id],
      )
    : { rows: [] };
  const [row] = rows;
  if (!row) throw notFound(say('This record of {label}', { label: table.label }));
  return viewOf(table, row, linkedOf(tables, table, row));
}

/** One record as `tables` lets somebody see it; undefined where it does not. */
export async function findSeen(
  database: Queryable,
  tables: Tables,
  tableId: TableId,
  id: number,
  wanted: WantedFacts,
): Promise<RecordView | undefined> {
  if (!tables.has(tableId)) return undefined;
  return (await findRecordsWhere(database, tables, tableId, 'r.id = ?', [id], wanted))[0];
}

/** Records by a condition and order in SQL over `r`, with the titles and wanted facts of what they link to. */
export async function findRecordsWhere(
  database: Queryable,
  tables: Tables,
  tableId: TableId,
  where: string,
  values: readonly (string | number | readonly number[])[],
  wanted: WantedFacts = NO_FACTS,
  lock = false,
): Promise<RecordView[]> {
  const table = tableOf(tables, tableId);
  const { rows } = await database.raw<{ rows: Row[] }>(
    `SELECT ${selectSql(tables, table, wanted)} FROM ${recordsOf(tables, tableId)} r WHERE ${where}${lock ? ' FOR UPDATE OF r' : ''}`,
    [...values] as (string | number)[],
  );
  return rows.map((row) => viewOf(table, row, linkedOf(tables, table, row)));
}

/** Which records of a table are meant. */
export interface RecordFilter {
  /** Words that each have to stand somewhere in what a row shows. */
  readonly search: string;
  readonly archived: 'no' | 'yes';
  /** `field:id`: only records whose link points there. */
  readonly linking?: string;
  /** Only records with these numbers, or all but them. */
  readonly only?: readonly RecordId[] | undefined;
  readonly except?: readonly RecordId[] | undefined;
}

/** A filter as conditions over `r`, to be joined by AND, with their values in order. */
export function filterSql(
  tables: Tables,
  table: TableDefinition,
  { search, archived, linking, only, except }: RecordFilter,
): { where: string[]; values: (string | number)[] } {
  const where = [`r.archived_at IS ${archived === 'yes' ? 'NOT ' : ''}NULL`];
  const values: (string | number)[] = [];
  const [through = '', target] = linking?.split(':') ?? [];
  const link = findField(table, through);
  if (linking !== undefined) {
    if (!link || targetTable(link) === undefined || target === undefined)
      throw unacceptable([
        {
          path: 'linking',
          rule: 'link',
          message: say('{through} is not a link of {label}.', { through, label: table.label }),
        },
      ]);
    where.push(linkingSql(link, 'r', isPast(tables, table.id)));
    values.push(Number(target));
  }
  const listed = (ids: readonly RecordId[]): string => `{${ids.join(',')}}`;
  if (only) {
    where.push('r.id = ANY(?::bigint[])');
    values.push(listed(only));
  }
  if (except) {
    where.push('r.id <> ALL(?::bigint[])');
    values.push(listed(except));
  }
  // Lists can have a million records: their search has an index.
  const matching =
    table.kind === 'list' ? choiceSearchSql(tables, table, search, 'r') : searchSql(tables, table, search);
  if (matching) {
    where.push(matching.text);
    values.push(...matching.values);
  }
  return { where, values };
}

interface RecordQuery extends RecordFilter {
  readonly after?: string;
  readonly limit: number;
  readonly sort?: string;
  readonly direction: 'up' | 'down';
}

/** A page of records by keyset: `after` is where the page before ended, so that every page costs the same. */
export async function listRecords(
  database: Queryable,
  tables: Tables,
  tableId: TableId,
  query: RecordQuery,
  wanted: WantedFacts = NO_FACTS,
) {
  const table = tableOf(tables, tableId);
  const field = query.sort === undefined ? undefined : findField(table, query.sort);
  const text = field && typeOf(field).family === 'text';
  const key = field ? `r.${quoted(field.id)}${text ? ' COLLATE fiche.natural' : ''}` : 'r.id';
  const [direction, sign] = query.direction === 'up' ? ['ASC', '>'] : ['DESC', '<'];
  const { where, values } = filterSql(tables, table, query);
  // Counting costs more than a page does: it is done with the first one only.
  const total = query.after === undefined ? await countSql(database, tables, tableId, where, values) : null;
  const from = readCursor(query.after);
  // Blanks come last in both directions.
  if (from && field && from.key === null) {
    where.push(`${key} IS NULL AND r.id ${sign} ?`);
    values.push(from.id);
  } else if (from && field) {
    where.push(
      `((${key}, r.id) ${sign} (?::${typeOf(field).column(field.settings)}${text ? ' COLLATE fiche.natural' : ''}, ?) OR ${key} IS NULL)`,
    );
    values.push(from.key as string | number, from.id);
  } else if (from) {
    where.push(`r.id ${sign} ?`);
    values.push(from.id);
  }
  const order = field ? `${key} ${direction} NULLS LAST, r.id ${direction}` : `r.id ${direction}`;
  const { rows } = await database.raw<{ rows: Row[] }>(
    `SELECT ${selectSql(tables, table, wanted)} FROM ${recordsOf(tables, tableId)} r WHERE ${where.join(' AND ')} ORDER BY ${order} LIMIT ?`,
    [...values, query.limit + 1],
  );
  const page = rows.slice(0, query.limit);
  const last = page.at(-1);
  const after =
    rows.length > query.limit && last ? JSON.stringify([field ? (last[field.id] ?? null) : null, last.id]) : null;
  return { records: page.map((row) => viewOf(table, row, linkedOf(tables, table, row))), after, total };
}

/** Records by number, in no order, with `more` result columns in SQL over `r`. Gives the rows as they came, and as records. */
export async function listedRows(
  database: Queryable,
  tables: Tables,
  table: TableDefinition,
  { more, ids }: { readonly more: readonly string[]; readonly ids: readonly RecordId[] },
): Promise<{ rows: Row[]; records: RecordView[] }> {
  const select = [selectSql(tables, table, NO_FACTS), ...more].join(', ');
  const { rows } = await database.raw<{ rows: Row[] }>(
    `SELECT ${select} FROM ${recordsOf(tables, table.id)} r WHERE r.id = ANY(?)`,
    [[...ids]],
  );
  return { rows, records: rows.map((row) => viewOf(table, row, linkedOf(tables, table, row))) };
}

async function countSql(
  database: Queryable,
  tables: Tables,
  tableId: TableId,
  where: readonly string[],
  values: readonly (string | number)[],
): Promise<number> {
  const { rows } = await database.raw<{ rows: { n: number }[] }>(
    `SELECT count(*) AS n FROM ${recordsOf(tables, tableId)} r WHERE ${where.join(' AND ')}`,
    [...values],
  );
  return rows[0]?.n ?? 0;
}

function readCursor(after: string | undefined): { key: Value; id: number } | undefined {
  if (after === undefined) return undefined;
  try {
    const [key, id] = JSON.parse(after) as [Value, number];
    return Number.isSafeInteger(id) ? { key, id } : undefined;
  } catch {
    return undefined;
  }
}
