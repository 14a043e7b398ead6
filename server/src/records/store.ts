import type { RecordView } from '@fiche/core/api';
import type { Linked } from '@fiche/core/entry';
import { isBlank, type Value, type Values } from '@fiche/core/fields';
import { quoted, relation } from '@fiche/core/queries';
import {
  type FieldDefinition,
  fieldAtPath,
  findField,
  linkedTable,
  type TableDefinition,
  type Tables,
  targetTable,
  titleFields,
  typeOf,
  writeTitle,
} from '@fiche/core/tables';
import { type Actor, type Database, type Transaction, writeOnce } from '../database/index.ts';
import { notFound, Refusal } from '../http/index.ts';

type Queryable = Database | Transaction;
type Row = Record<string, unknown>;

/** More than this many links deep, a title names a linked record by its number. */
const TITLE_DEPTH = 3;

/**
 * A record's title as SQL: its title column, its number while there is none, or for a template a JSON list of its
 * fields' values, links as the title of what they point at. `showTitle` reads it.
 */
export function titleSql(tables: Tables, table: TableDefinition, alias: string, depth = 0): string {
  const fields = titleFields(table);
  const [only] = fields;
  if (!only || depth > TITLE_DEPTH) return `${alias}.id`;
  const part = (field: FieldDefinition): string => {
    const target = tables.get(linkedTable(field) ?? '');
    if (!target) return `${alias}.${quoted(field.id)}`;
    const inner = `${alias.slice(0, 20)}_t${depth}`;
    return `(SELECT ${titleSql(tables, target, inner, depth + 1)} FROM ${relation(target.id)} ${inner} WHERE ${inner}.id = ${alias}.${quoted(field.id)})`;
  };
  if (!isTemplate(table)) return part(only);
  return `json_build_array(${fields.map(part).join(', ')})`;
}

const isTemplate = (table: TableDefinition): boolean => table.title?.includes('{') ?? false;

/** What `titleSql` gave, as people read it. */
export function showTitle(tables: Tables, table: TableDefinition, raw: unknown, depth = 0): string {
  const fields = titleFields(table);
  if (fields.length === 0 || depth > TITLE_DEPTH) return `#${raw}`;
  const values = isTemplate(table) ? ((raw ?? []) as unknown[]) : [raw];
  return writeTitle(
    table,
    (field) => {
      const json = values[fields.indexOf(field)];
      if (linkedTable(field) !== undefined) return json === null || json === undefined ? null : 1;
      return isBlank(json as Value) ? null : typeOf(field).stored(json);
    },
    (field) => {
      const target = tables.get(linkedTable(field) ?? '');
      return target ? showTitle(tables, target, values[fields.indexOf(field)], depth + 1) : '';
    },
  );
}

/**
 * A column reached by a path from `table` through links, as a scalar SQL expression: `owner.phone` becomes a
 * subquery on the linked record.
 */
export function pathSql(tables: Tables, table: string, alias: string, path: string): string {
  const dot = path.indexOf('.');
  if (dot < 0) return `${alias}.${quoted(path)}`;
  const step = path.slice(0, dot);
  const next = linkedTable(findField(tables.get(table), step));
  if (next === undefined) throw new Error(`${table}.${path} is not a path through links`);
  const inner = `${alias}_${step}`;
  return `(SELECT ${pathSql(tables, next, inner, path.slice(dot + 1))} FROM ${relation(next)} ${inner} WHERE ${inner}.id = ${alias}.${quoted(step)})`;
}

/** The facts of a linked record as one JSON expression: `{ "owner.phone": … }`. */
export function factsSql(tables: Tables, table: string, alias: string, paths: readonly string[]): string {
  const parts = paths.map((path) => `'${path}', ${pathSql(tables, table, alias, path)}`);
  return parts.length === 0 ? `'{}'::json` : `json_build_object(${parts.join(', ')})`;
}

/** The facts of a record of `table` as `factsSql` gives them, each in its type's canonical form. */
export const readFacts = (tables: Tables, table: string, json: Record<string, unknown>): Values =>
  Object.fromEntries(
    Object.entries(json).map(([path, value]): [string, Value] => {
      const field = fieldAtPath(tables, table, path);
      return [path, value === null || !field ? (value as Value) : typeOf(field).stored(value)];
    }),
  );

/** What a reader wants to know of the records that a link field points at. */
export type WantedFacts = (field: FieldDefinition) => readonly string[];

const NO_FACTS: WantedFacts = () => [];

const KEPT = ['id', 'version', 'created_at', 'created_by', 'changed_at', 'changed_by', 'archived_at'];

/** All columns of a table by name: the audit fields, then its own. */
const columnsOf = (table: TableDefinition, prefix = ''): string =>
  [...KEPT, ...table.fields.map((field) => field.id)].map((column) => `${prefix}${quoted(column)}`).join(', ');

function selectSql(tables: Tables, table: TableDefinition, wanted: WantedFacts): string {
  const own = columnsOf(table, 'r.');
  const linked = table.fields.flatMap((field) => {
    const target = tables.get(targetTable(field) ?? '');
    if (!target) return [];
    const alias = `l_${field.id}`.slice(0, 40);
    if (field.type === 'links')
      return [
        `(SELECT json_agg(json_build_array(${alias}.id, ${titleSql(tables, target, alias)}) ORDER BY array_position(r.${quoted(field.id)}, ${alias}.id)) FROM ${relation(target.id)} ${alias} WHERE ${alias}.id = ANY(r.${quoted(field.id)})) AS "titles:${field.id}"`,
      ];
    const facts = factsSql(tables, target.id, alias, wanted(field));
    return [
      `(SELECT json_build_array(${titleSql(tables, target, alias)}, ${facts}) FROM ${relation(target.id)} ${alias} WHERE ${alias}.id = r.${quoted(field.id)}) AS "linked:${field.id}"`,
    ];
  });
  return [own, ...linked].join(', ');
}

/** What a row says of the records that it links to. */
function linkedOf(tables: Tables, table: TableDefinition, row: Row): Record<string, Linked> {
  const linked: Record<string, Linked> = {};
  for (const field of table.fields) {
    const target = tables.get(linkedTable(field) ?? '');
    const found = row[`linked:${field.id}`] as [unknown, Record<string, unknown>] | null | undefined;
    if (target && found)
      linked[field.id] = { title: showTitle(tables, target, found[0]), facts: readFacts(tables, target.id, found[1]) };
    const several = field.type === 'links' ? tables.get(targetTable(field) ?? '') : undefined;
    const titles = row[`titles:${field.id}`] as [number, unknown][] | null | undefined;
    if (several && titles) {
      const shown = titles.map(([id, raw]): [string, string] => [String(id), showTitle(tables, several, raw)]);
      linked[field.id] = {
        title: shown.map(([, title]) => title).join(', '),
        facts: {},
        titles: Object.fromEntries(shown),
      };
    }
  }
  return linked;
}

function viewOf(table: TableDefinition, row: Row, linked: Readonly<Record<string, Linked>>): RecordView {
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

const titleOf = (table: TableDefinition, row: Row, linked: Readonly<Record<string, Linked>>): string =>
  writeTitle(
    table,
    (field) => (row[field.id] ?? null) as Value,
    (field) => linked[field.id]?.title ?? '',
  );

const tableOf = (tables: Tables, id: string): TableDefinition => {
  const table = tables.get(id);
  if (!table) throw notFound('This table');
  return table;
};

/** One record, with the titles and wanted facts of what it links to. Locked for this transaction when asked. */
export async function findRecord(
  database: Queryable,
  tables: Tables,
  tableId: string,
  id: number,
  wanted: WantedFacts = NO_FACTS,
  lock = false,
): Promise<RecordView> {
  const table = tableOf(tables, tableId);
  const { rows } = Number.isSafeInteger(id)
    ? await database.raw<{ rows: Row[] }>(
        `SELECT ${selectSql(tables, table, wanted)} FROM ${relation(tableId)} r WHERE r.id = ?${lock ? ' FOR UPDATE OF r' : ''}`,
        [id],
      )
    : { rows: [] };
  const [row] = rows;
  if (!row) throw notFound(`This record of ${table.label}`);
  return viewOf(table, row, linkedOf(tables, table, row));
}

export interface RecordQuery {
  readonly after?: string;
  readonly limit: number;
  readonly sort?: string;
  readonly direction: 'up' | 'down';
  readonly search: string;
  readonly archived: 'no' | 'yes';
  /** `field:id`: only records whose link points there. */
  readonly linking?: string;
}

/** A page of records by keyset: `after` is where the page before ended, so that every page costs the same. */
export async function listRecords(database: Queryable, tables: Tables, tableId: string, query: RecordQuery) {
  const table = tableOf(tables, tableId);
  const field = query.sort === undefined ? undefined : findField(table, query.sort);
  const text = field && typeOf(field).family === 'text';
  const key = field ? `r.${quoted(field.id)}${text ? ' COLLATE fiche.natural' : ''}` : 'r.id';
  const [direction, sign] = query.direction === 'up' ? ['ASC', '>'] : ['DESC', '<'];
  const where = [`r.archived_at IS ${query.archived === 'yes' ? 'NOT ' : ''}NULL`];
  const values: (string | number)[] = [];
  const [through = '', target] = query.linking?.split(':') ?? [];
  const link = findField(table, through);
  if (link && targetTable(link) !== undefined && target !== undefined) {
    where.push(linkingSql(link, 'r'));
    values.push(Number(target));
  }
  const matching = searchSql(table, query.search);
  if (matching) {
    where.push(matching.text);
    values.push(...matching.values);
  }
  // Counting costs more than a page does: it is done with the first one only.
  const total = query.after === undefined ? await countSql(database, tableId, where, values) : null;
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
    `SELECT ${selectSql(tables, table, NO_FACTS)} FROM ${relation(tableId)} r WHERE ${where.join(' AND ')} ORDER BY ${order} LIMIT ?`,
    [...values, query.limit + 1],
  );
  const page = rows.slice(0, query.limit);
  const last = page.at(-1);
  const after =
    rows.length > query.limit && last ? JSON.stringify([field ? (last[field.id] ?? null) : null, last.id]) : null;
  return { records: page.map((row) => viewOf(table, row, linkedOf(tables, table, row))), after, total };
}

async function countSql(
  database: Queryable,
  tableId: string,
  where: readonly string[],
  values: readonly (string | number)[],
): Promise<number> {
  const { rows } = await database.raw<{ rows: { n: number }[] }>(
    `SELECT count(*) AS n FROM ${relation(tableId)} r WHERE ${where.join(' AND ')}`,
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

/** Typed words against a table's text columns; every word has to stand somewhere. Undefined when nothing was typed. */
export function searchSql(
  table: TableDefinition,
  search: string,
  alias = 'r',
): { text: string; values: string[] } | undefined {
  const words = wordsOf(search);
  const columns = table.fields
    .filter((field) => typeOf(field).family === 'text')
    .map((field) => `${alias}.${quoted(field.id)}`);
  if (words.length === 0) return undefined;
  if (columns.length === 0) return { text: 'FALSE', values: [] };
  return {
    text: words.map(() => `concat_ws(' ', ${columns.join(', ')}) ILIKE ?`).join(' AND '),
    values: words.map(likeWord),
  };
}

/** The text columns that typing in a dropdown searches: those of one line. */
const typedColumns = (table: TableDefinition): FieldDefinition[] =>
  table.fields.filter((field) => typeOf(field).family === 'text' && field.type !== 'longText');

/** What typing in a dropdown searches, as one expression that an index can stand on; undefined without a text column. */
export function typedSearchSql(table: TableDefinition, prefix: string): string | undefined {
  const columns = typedColumns(table);
  if (columns.length === 0) return undefined;
  return columns.map((field) => `coalesce(${prefix}${quoted(field.id)}, '')`).join(` || ' ' || `);
}

/** Typed words against the one-line text columns of a dropdown's choices; every word has to stand somewhere. */
export function choiceSearchSql(
  table: TableDefinition,
  search: string,
  alias: string,
): { text: string; values: string[] } | undefined {
  const words = wordsOf(search);
  if (words.length === 0) return undefined;
  const text = typedSearchSql(table, `${alias}.`);
  if (text === undefined) return { text: 'FALSE', values: [] };
  return { text: words.map(() => `(${text}) ILIKE ?`).join(' AND '), values: words.map(likeWord) };
}

const wordsOf = (search: string): string[] =>
  search
    .trim()
    .split(/\s+/)
    .filter((word) => word !== '')
    .slice(0, 8);

const likeWord = (word: string): string => `%${word.replace(/[\\%_]/g, '\\$&')}%`;

/** Where a record stands among the records in use, in order of entry. */
export async function placeOf(database: Queryable, tableId: string, id: number) {
  const here = relation(tableId);
  const { rows } = await database.raw<{
    rows: { position: number; total: number; previous: number | null; next: number | null }[];
  }>(
    `SELECT (SELECT count(*) FROM ${here} WHERE archived_at IS NULL AND id <= ?) AS position,
       (SELECT count(*) FROM ${here} WHERE archived_at IS NULL) AS total,
       (SELECT max(id) FROM ${here} WHERE archived_at IS NULL AND id < ?) AS previous,
       (SELECT min(id) FROM ${here} WHERE archived_at IS NULL AND id > ?) AS next`,
    [id, id, id],
  );
  return rows[0] ?? { position: 0, total: 0, previous: null, next: null };
}

/** What makes a save known when it is sent again, kept with the record it made. */
export interface SaveKey {
  readonly key: string;
  readonly bodyHash: string;
}

/**
 * Adds a record and keeps the key of its save, whole or not at all, in one statement. `linked` has the titles and facts
 * of what the record links to, so that it need not be read back.
 */
export async function insertRecord(
  database: Queryable,
  actor: Actor,
  table: TableDefinition,
  values: Values,
  linked: Readonly<Record<string, Linked>> = {},
  save?: SaveKey,
): Promise<RecordView> {
  const fields = table.fields.filter((field) => field.id in values);
  const columns = fields.map((field) => quoted(field.id)).join(', ');
  const given = fields.map((field) => `?::${typeOf(field).column(field.settings)}`).join(', ');
  // A row of defaults needs one column to be said; the archive mark is the one that every table has.
  const insert = fields.length === 0 ? '(archived_at) SELECT NULL' : `(${columns}) SELECT ${given}`;
  const kept = save
    ? ', kept AS (INSERT INTO fiche.idempotency (account, key, body_hash, record) SELECT ?, ?, ?, id FROM written)'
    : '';
  const rows = await writeOnce<Row>(
    database,
    actor,
    `written AS (INSERT INTO ${relation(table.id)} ${insert} FROM actor RETURNING ${columnsOf(table)})${kept} SELECT ${columnsOf(table)} FROM written`,
    [...fields.map((field) => values[field.id] ?? null), ...(save ? [actor.name, save.key, save.bodyHash] : [])],
  );
  return viewOf(table, rows[0] ?? {}, linked);
}

/** Changes columns of a record, or takes it out of use and back. The actor must be set. */
export async function updateRecord(
  transaction: Transaction,
  tableId: string,
  id: number,
  values: Values,
): Promise<void> {
  const columns = Object.keys(values);
  if (columns.length === 0) return;
  await transaction.raw(
    `UPDATE ${relation(tableId)} SET ${columns.map((column) => `${quoted(column)} = ?`).join(', ')} WHERE id = ?`,
    [...columns.map((column) => values[column] ?? null), id] as string[],
  );
}

/**
 * Erases an archived record for good. Refused while another record links to it, and says which tables do. As the owner,
 * in a transaction with an actor.
 */
export async function eraseRecord(
  owner: Transaction,
  tables: Tables,
  tableId: string,
  id: number,
  version: number,
): Promise<void> {
  const record = await findRecord(owner, tables, tableId, id, NO_FACTS, true);
  if (!record.archived) throw new Refusal(409, 'Archive this record first: only an archived one can be erased.');
  if (record.version !== version)
    throw new Refusal(409, `${record.stamp.changedBy} has changed this record meanwhile. Look at it again first.`, [], {
      current: record,
    });
  const linking: string[] = [];
  for (const { table, field } of linksTo(tables, tableId)) {
    const { rows } = await owner.raw<{ rows: { n: number }[] }>(
      `SELECT count(*) AS n FROM ${relation(table.id)} r WHERE ${linkingSql(field, 'r')}`,
      [id],
    );
    const n = rows[0]?.n ?? 0;
    if (n > 0) linking.push(`${n} of ${table.label} (${field.label})`);
  }
  if (linking.length > 0)
    throw new Refusal(409, `Other records link to this one: ${linking.join(', ')}. Take those links out first.`);
  await owner.raw(`DELETE FROM ${relation(tableId)} WHERE id = ?`, [id]);
}

/** The fields of all tables, those out of use as well, whose links point at records of one table. */
export const linksTo = (tables: Tables, target: string): { table: TableDefinition; field: FieldDefinition }[] =>
  [...tables.values()].flatMap((table) =>
    [...table.fields, ...table.retired]
      .filter((field) => targetTable(field) === target)
      .map((field) => ({ table, field })),
  );

/** Holds for the records, known as `alias`, whose link field points at the record bound to `?`. */
export const linkingSql = (field: FieldDefinition, alias: string): string =>
  field.type === 'links'
    ? `${alias}.id IN (SELECT p.record FROM ${relation(String(field.settings.pairs))} p WHERE p.target = ?)`
    : `${alias}.${quoted(field.id)} = ?`;
