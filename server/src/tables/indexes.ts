import { createHash } from 'node:crypto';
import { setTimeout } from 'node:timers/promises';
import { type Condition, pathsOf } from '@fiche/core/conditions';
import { fieldType, isIndexed, isSeveral } from '@fiche/core/fields';
import { type DefinedForm, generateForm, prepareForm } from '@fiche/core/forms';
import { inNaturalOrder, quoted, relation } from '@fiche/core/queries';
import {
  fieldAtPath,
  findField,
  type IdOfForm,
  linkedTable,
  type TableDefinition,
  type TableId,
  type Tables,
  titleNames,
  typeOf,
} from '@fiche/core/tables';
import { isAuditColumn, type Listing } from '@fiche/core/views';
import type { Database } from '../database/index.ts';
import { type Definitions, loadDefinitions } from '../definitions/index.ts';
import { typedSearchSql } from '../records/index.ts';

/** Below this many records a scan is as quick as an index, and the index only costs. */
const WORTH_AN_INDEX = 20_000;

const PREFIX = 'made_';

/** A shared view, as far as it needs indexes. */
interface SharedView {
  readonly table: TableId;
  readonly definition: Pick<Listing, 'filter' | 'sort'>;
}

/** Every index that narrowing, typing to find and shared views need, as the statement that follows its name. */
function neededIndexes(
  { tables, forms }: Definitions,
  sizes: ReadonlyMap<string, number>,
  views: readonly SharedView[],
): Map<string, string> {
  const needed = new Map<string, string>();
  const need = (table: TableId, how: string): void => {
    const name = `${PREFIX}${createHash('sha1').update(`${table} ${how}`).digest('hex').slice(0, 20)}`;
    needed.set(name, `ON ${relation(table)} ${how}`);
  };
  const levels = new Map<string, string[][]>();
  const inUse = [...forms.values()].flatMap(({ live }) => live ?? []);
  // A table's own card narrows too.
  const cards = [...tables.values()]
    .filter((table) => table.fields.some((field) => field.narrowing !== null))
    .map((table) => generateForm(table));
  for (const live of [...inUse, ...cards]) {
    for (const { table, how } of [...ofForm(live, tables), ...ofKeys(live, tables)]) need(table, how);
    for (const { table, columns } of levelsOf(live, tables)) levels.set(table, [...(levels.get(table) ?? []), columns]);
  }
  for (const [table, orders] of levels) {
    for (const columns of withoutPrefixes(orders))
      need(table, `(${columns.map((column) => inNaturalOrder(quoted(column))).join(', ')}) WHERE archived_at IS NULL`);
    if ((sizes.get(table) ?? 0) >= WORTH_AN_INDEX)
      for (const column of new Set(orders.map((columns) => columns.at(-1) ?? '')))
        need(table, `USING gin (${quoted(column)} gin_trgm_ops)`);
  }
  for (const view of views)
    for (const { table, how } of ofView(view, tables)) if ((sizes.get(table) ?? 0) >= WORTH_AN_INDEX) need(table, how);
  for (const table of tables.values()) {
    const text = typedSearchSql(table, '');
    if (text !== undefined && (sizes.get(table.id) ?? 0) >= WORTH_AN_INDEX)
      need(table.id, `USING gin ((${text}) gin_trgm_ops)`);
    if ((sizes.get(table.id) ?? 0) < WORTH_AN_INDEX) continue;
    for (const { id, type } of table.fields) {
      // What *Find* searches of its own records, and of the titles of those that link here.
      if (fieldType(type).long) need(table.id, `USING gin (${quoted(id)} gin_trgm_ops)`);
    }
    const named = new Set(titleNames(table.title ?? ''));
    const title = typedSearchSql({ ...table, fields: table.fields.filter((one) => named.has(one.id)) }, '');
    if (title !== undefined && title !== text) need(table.id, `USING gin ((${title}) gin_trgm_ops)`);
  }
  return needed;
}

/** What a shared view compares, and what it is sorted by first where that has no index of its own: text has one, titles of links have none. */
function ofView(
  { table: id, definition: { filter, sort } }: SharedView,
  tables: Tables,
): { table: TableId; how: string }[] {
  const table = tables.get(id);
  if (!table) return [];
  const found = comparedColumns(filter).flatMap(({ path, ordered }) => ofPath(tables, table, path, ordered));
  const [first] = sort;
  const field = findField(table, first?.path ?? '');
  const plain = field && linkedTable(field) === undefined && isIndexed(field) && typeOf(field).family !== 'text';
  if (first && (plain || isAuditColumn(first.path))) found.push({ table: id, how: `(${quoted(first.path)}, id)` });
  return found;
}

const sharedViews = async (ask: Ask): Promise<SharedView[]> =>
  (await ask('SELECT table_id AS "table", definition FROM fiche.view WHERE shared')).rows as unknown as SharedView[];

/** What a form finds records of its destinations by: words whatever their case. */
const ofKeys = ({ destinations }: DefinedForm, tables: Tables): { table: TableId; how: string }[] =>
  (destinations?.of ?? []).flatMap(({ table, key }) => {
    const [first] = key.flatMap((id) => findField(tables.get(table), id) ?? []);
    if (!first) return [];
    const column = quoted(first.id);
    return [{ table, how: typeOf(first).family === 'text' ? `(lower(${column}))` : `(${column})` }];
  });

/** The columns that a form's narrowing compares, each table its own; links have their index with their foreign key. */
function ofForm(form: DefinedForm, tables: Tables): { table: TableId; how: string }[] {
  if (!tables.has(form.table)) return [];
  const found: { table: TableId; how: string }[] = [];
  for (const { source, narrowing } of prepareForm(form, tables).fields.values()) {
    const table = tables.get(source?.table ?? '');
    if (!source || !table) continue;
    if (source.column !== undefined) continue;
    for (const { path, ordered } of comparedColumns(narrowing.where))
      found.push(...ofPath(tables, table, path, ordered));
  }
  return found;
}

/** Of so many parents at most, every selection can be blank and still be answered in the order of an index. */
const BLANKS = 4;

/**
 * The orders that the dropdowns of a form read option lists in: for a level under each selection of the levels above it
 * that can be filled while the others are blank, those, and then the level itself.
 */
function levelsOf(form: DefinedForm, tables: Tables): { table: TableId; columns: string[] }[] {
  if (!tables.has(form.table)) return [];
  return [...prepareForm(form, tables).fields.values()].flatMap(({ source, narrowing }) => {
    const table = tables.get(source?.table ?? '');
    const word = source?.column;
    if (!table || word === undefined) return [];
    const isText = (id: string): boolean => {
      const field = findField(table, id);
      return field !== undefined && typeOf(field).family === 'text';
    };
    const compared = new Set(comparedColumns(narrowing.where).flatMap(({ path, ordered }) => (ordered ? [] : [path])));
    const above = table.fields.map((field) => field.id).filter((id) => id !== word && compared.has(id) && isText(id));
    return isText(word) ? selectionsOf(above).map((columns) => ({ table: table.id, columns: [...columns, word] })) : [];
  });
}

/** Every selection of a few; of more, the selections of the first few with all of the others. */
function selectionsOf(columns: readonly string[]): string[][] {
  const [always, first] = [columns.slice(BLANKS), columns.slice(0, BLANKS)];
  const found: string[][] = [[]];
  for (const column of first) found.push(...found.map((one) => [...one, column]));
  return found.map((one) => [...one, ...always]);
}

/** Orders that another one begins with need no index of their own. */
const withoutPrefixes = (orders: readonly string[][]): string[][] => {
  const texts = [...new Set(orders.map((columns) => columns.join(' ')))];
  return texts
    .filter((text) => !texts.some((other) => other !== text && `${other} `.startsWith(`${text} `)))
    .map((text) => text.split(' '));
};

/** The columns that a condition compares, and whether by their order. */
function comparedColumns(condition: Condition): { path: string; ordered: boolean }[] {
  if (condition.kind === 'group') return condition.of.flatMap(comparedColumns);
  const ordered = ['less', 'atMost', 'more', 'atLeast'].includes(condition.operator);
  return pathsOf(condition, 'column').map((path) => ({ path, ordered }));
}

function ofPath(
  tables: Tables,
  table: TableDefinition,
  path: string,
  ordered: boolean,
): { table: TableId; how: string }[] {
  const [first = '', ...rest] = path.split('.');
  const field = findField(table, first);
  const next = linkedTable(field);
  if (rest.length > 0 && next !== undefined) {
    const target = tables.get(next);
    return target ? ofPath(tables, target, rest.join('.'), ordered) : [];
  }
  if (!field || next !== undefined || fieldAtPath(tables, table.id, path) === undefined) return [];
  const collate = ordered && typeOf(field).family === 'text' ? ' COLLATE "C"' : '';
  return isSeveral(field) ? [] : [{ table: table.id, how: `(${quoted(first)}${collate})` }];
}

type Ask = (sql: string) => Promise<{ rows: Record<string, unknown>[] }>;

/** Does the work on one connection while no other server does it; undefined when one does. */
async function inTurn<T>(owner: Database, work: (ask: Ask) => Promise<T>): Promise<T | undefined> {
  const turn = await owner.client.acquireConnection();
  const ask: Ask = (sql) => turn.query(sql);
  try {
    const { rows: got } = await ask('SELECT pg_try_advisory_lock(4207851) AS got');
    if (got[0]?.got !== true) return undefined;
    try {
      // Half of the time of an index over a million records goes into files, when its entries are not sorted in memory.
      await ask("SET maintenance_work_mem = '512MB'");
      return await work(ask);
    } finally {
      await ask('RESET maintenance_work_mem');
      await ask('SELECT pg_advisory_unlock(4207851)');
    }
  } finally {
    await owner.client.releaseConnection(turn);
  }
}

/** What there is in the database: how many records each table seems to have, and the indexes that were made here. */
async function presentIndexes(ask: Ask): Promise<{ sizes: Map<string, number>; made: Map<string, boolean> }> {
  const { rows } = await ask(
    `SELECT c.relname AS name, c.relkind AS kind, c.reltuples::bigint AS size, coalesce(i.indisvalid, true) AS valid
     FROM pg_class c LEFT JOIN pg_index i ON i.indexrelid = c.oid WHERE c.relnamespace = 'data'::regnamespace AND c.relkind IN ('r', 'i')`,
  );
  const made = rows.filter((row) => row.kind === 'i' && String(row.name).startsWith(PREFIX));
  return {
    sizes: new Map(rows.filter((row) => row.kind === 'r').map((row) => [String(row.name), Number(row.size)])),
    made: new Map(made.map((row) => [String(row.name), row.valid === true])),
  };
}

/** Makes what is missing, beside the writers. Returns how many were made. */
async function makeMissing(
  ask: Ask,
  needed: ReadonlyMap<string, string>,
  made: ReadonlyMap<string, boolean>,
): Promise<number> {
  let count = 0;
  for (const [name, how] of needed) {
    if (made.get(name) === true) continue;
    if (made.has(name)) await ask(`DROP INDEX CONCURRENTLY IF EXISTS data.${quoted(name)}`);
    await ask(`CREATE INDEX CONCURRENTLY IF NOT EXISTS ${quoted(name)} ${how}`);
    count++;
  }
  return count;
}

/**
 * Makes the indexes that definitions need now and removes those that nothing needs any more, beside the writers. One
 * server at a time; what fails is tried again at the next turn. Returns what was made and removed.
 */
export async function tendIndexes(owner: Database): Promise<{ made: number; removed: number }> {
  const done = await inTurn(owner, async (ask) => {
    const { sizes, made } = await presentIndexes(ask);
    const needed = neededIndexes(await loadDefinitions(owner), sizes, await sharedViews(ask));
    let removed = 0;
    for (const name of made.keys())
      if (!needed.has(name)) {
        await ask(`DROP INDEX CONCURRENTLY IF EXISTS data.${quoted(name)}`);
        removed++;
      }
    return { made: await makeMissing(ask, needed, made), removed };
  });
  return done ?? { made: 0, removed: 0 };
}

/**
 * Makes the indexes that a form will need, before its draft goes live: a list of a million is quick from the first
 * question on. Waits while another server makes some.
 */
export async function prepareIndexes(owner: Database, form: IdOfForm): Promise<void> {
  for (;;) {
    const done = await inTurn(owner, async (ask) => {
      const definitions = await loadDefinitions(owner);
      const row = definitions.forms.get(form);
      if (!row) return true;
      const { sizes, made } = await presentIndexes(ask);
      const asLive = new Map(definitions.forms).set(form, { ...row, live: row.draft });
      const needed = neededIndexes({ ...definitions, forms: asLive }, sizes, await sharedViews(ask));
      await makeMissing(ask, needed, made);
      return true;
    });
    if (done) return;
    // Not with a lock that waits: what waits with a snapshot of its own would keep an index from being finished.
    await setTimeout(200);
  }
}
