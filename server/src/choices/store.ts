import { pathsOf } from '@fiche/core/conditions';
import { type Enclosing, type FoundRecord, type LinkedRecord, narrowedBy, type Readable } from '@fiche/core/entry';
import { itemsOf, type Value, type Values } from '@fiche/core/fields';
import type { PreparedField, PreparedForm } from '@fiche/core/forms';
import { sayOwn } from '@fiche/core/languages';
import type { Choice } from '@fiche/core/narrowing';
import { conditionToSql, inNaturalOrder, quoted, recordsOf, relation } from '@fiche/core/queries';
import {
  fieldAtPath,
  findField,
  linkedTable,
  type TableDefinition,
  type TableId,
  type Tables,
  titleFields,
  typeOf,
} from '@fiche/core/tables';
import { ask, type Database, type Transaction } from '../database/index.ts';
import { choiceSearchSql, factsSql, readFacts, showTitle, titleSql } from '../records/index.ts';
import { tellApart } from './apart.ts';
import { findWordsAsRead } from './words.ts';

type Queryable = Database | Transaction;

/** Who asks for choices, when, and with which values of the form. */
export interface Asked {
  readonly account: string | null;
  readonly now: string;
  readonly values: Values;
  /** For a line: the record around it. */
  readonly enclosing?: Enclosing;
}

/**
 * An entry as conditions read it, out of values alone: the facts that a narrowing reaches through links are fetched of the
 * records that `rows` has.
 */
export async function readableOf(
  database: Queryable,
  rows: Tables,
  form: PreparedForm,
  { account, now, values, enclosing }: Asked,
  dropdown: PreparedField,
): Promise<Readable> {
  const through = pathsOf(dropdown.narrowing.where, 'form').filter((path) => path.includes('.'));
  const linked: Record<string, FoundRecord> = {};
  for (const field of new Set(through.map((path) => path.split('.')[0] ?? ''))) {
    const prepared = form.fields.get(field);
    const found =
      prepared && typeof values[field] === 'number'
        ? await findById(database, rows, prepared, values[field])
        : undefined;
    if (found) linked[field] = found;
  }
  return { form, account, now, values, linked, hidden: {}, enclosing };
}

/** The record around a line, out of its values alone: the facts that the narrowing of `dropdown` reaches are fetched. */
export async function enclosingAsSent(
  database: Queryable,
  rows: Tables,
  form: PreparedForm,
  values: Values,
  dropdown: PreparedField,
): Promise<Enclosing> {
  const linked: Record<string, FoundRecord> = {};
  for (const path of pathsOf(dropdown.narrowing.where, 'enclosing').filter((one) => one.includes('.'))) {
    const field = path.split('.')[0] ?? '';
    const prepared = form.fields.get(field);
    const value = values[field];
    if (!prepared || typeof value !== 'number' || linked[field]) continue;
    const found = await findById(database, rows, prepared, value);
    if (found) linked[field] = found;
  }
  return { values, linked };
}

interface ChoiceRow {
  value: string | number;
  title: unknown;
  facts: Record<string, unknown>;
  [shown: `shown${number}`]: unknown;
}

/**
 * The narrowed choices of a dropdown, archived records left out, sorted as the form says, at most `limit` and one. What
 * narrows them may be anything of the form; of what is left, `tables` says what the caller sees.
 */
export async function findChoices(
  database: Queryable,
  tables: Tables,
  entry: Readable,
  dropdown: PreparedField,
  search: string,
  limit = 50,
): Promise<{ choices: Choice[]; more: boolean }> {
  const { source } = dropdown;
  const table = source && tables.get(source.table);
  if (!source || !table) return { choices: [], more: false };
  const where = conditionToSql(entry.form.tables, table.id, 'c', narrowedBy(entry, dropdown.id));
  const paths = pathsSeen(tables, table.id, dropdown.factPaths);
  if (source.column !== undefined) {
    const { words, more } = await findWordsAsRead(database, table, source.column, where, search, limit);
    return { choices: words.map((word) => ({ value: word, title: sayOwn(word), facts: {}, shown: [] })), more };
  }
  // A stranger searches in what a choice shows, and in nothing else.
  const shownColumns = [...titleFields(table).map((field) => field.id), ...dropdown.narrowing.show];
  const matching = choiceSearchSql(
    tables,
    table,
    search,
    'c',
    entry.account === null ? new Set(shownColumns) : undefined,
  );
  const show = dropdown.narrowing.show.flatMap((id) => findField(table, id) ?? []);
  const title = titleSql(tables, table, 'c');
  const shown = show.map((field, n) => {
    const target = tables.get(linkedTable(field) ?? '');
    const value = target
      ? `(SELECT ${titleSql(tables, target, 's')} FROM ${recordsOf(tables, target.id)} s WHERE s.id = c.${quoted(field.id)})`
      : `c.${quoted(field.id)}`;
    return `, ${value} AS shown${n}`;
  });
  const rows = await ask<ChoiceRow>(
    database,
    `SELECT c.id AS value, ${title} AS title, ${factsSql(tables, table.id, 'c', paths)} AS facts${shown.join('')}
     FROM ${recordsOf(tables, table.id)} c
     WHERE c.archived_at IS NULL AND ${where.text}${matching ? ` AND ${matching.text}` : ''}
     ORDER BY ${orderSql(table, dropdown.narrowing.sort)}, c.id LIMIT ?`,
    [...where.values, ...(matching?.values ?? []), limit + 1],
  );
  const choices = rows.slice(0, limit).map((row) => ({
    value: Number(row.value),
    title: showTitle(tables, table, row.title),
    facts: readFacts(tables, table.id, row.facts),
    shown: show.map((field, n) => {
      const value = row[`shown${n}`] as Value;
      const target = tables.get(linkedTable(field) ?? '');
      return value === null
        ? ''
        : target
          ? showTitle(tables, target, value)
          : typeOf(field).format(value, field.settings);
    }),
  }));
  return {
    choices: entry.account === null ? choices : await tellApart(database, tables, table, choices),
    more: rows.length > limit,
  };
}

/** The paths of columns that `tables` has. */
const pathsSeen = (tables: Tables, table: TableId, paths: readonly string[]): string[] =>
  paths.filter((path) => fieldAtPath(tables, table, path) !== undefined);

function orderSql(table: TableDefinition, sort: string | null): string {
  const chosen = sort === null ? undefined : findField(table, sort);
  const fields = chosen ? [chosen] : titleFields(table);
  if (fields.length === 0) return 'c.id';
  return fields
    .map(
      (field) => `c.${quoted(field.id)}${typeOf(field).family === 'text' ? ' COLLATE fiche.natural' : ''} NULLS LAST`,
    )
    .join(', ');
}

/** Whether a value is among the narrowed choices of its dropdown. An archived record is not. */
export async function isAmongChoices(
  database: Queryable,
  tables: Tables,
  entry: Readable,
  dropdown: PreparedField,
  value: Value,
): Promise<boolean> {
  if (!dropdown.source || value === null) return false;
  const items = typeof value === 'object' ? itemsOf(value) : [value];
  const checks = items.map((item) => ({ entry, dropdown, value: item, fresh: true }));
  return (await findAmongChoices(database, tables, checks)).every((found) => found !== undefined);
}

/**
 * Checks several values, of one entry or of several, against their narrowed choices in one question. For each, in order: the record as the
 * form knows it (its word for an option list), or undefined when the value is not among the choices. What is newly chosen
 * has to be among the records that `seen` has; what was chosen before may be another.
 */
export async function findAmongChoices(
  database: Queryable,
  seen: Tables,
  checks: readonly {
    readonly entry: Readable;
    readonly dropdown: PreparedField;
    readonly value: Value;
    readonly fresh: boolean;
  }[],
): Promise<(LinkedRecord | undefined)[]> {
  const parts = checks.map(({ entry, dropdown, value, fresh }) => {
    const { tables } = entry.form;
    const table = tables.get(dropdown.source?.table ?? '');
    if (!table) throw new Error(`${dropdown.id} is not a dropdown`);
    // A table that is not there for the caller offers nothing.
    if (fresh && !seen.has(table.id)) return { tables, table, word: false, text: 'NULL', values: [] };
    const where = conditionToSql(tables, table.id, 'c', narrowedBy(entry, dropdown.id));
    const word = dropdown.source?.column;
    const column = word === undefined ? 'c.id' : inNaturalOrder(`c.${quoted(word)}`);
    const shown = word === undefined ? titleSql(tables, table, 'c') : column;
    const facts = factsSql(tables, table.id, 'c', word === undefined ? dropdown.factPaths : []);
    return {
      tables,
      table,
      word: word !== undefined,
      text: `(SELECT json_build_array(${shown}, ${facts}) FROM ${fresh ? recordsOf(seen, table.id) : relation(table.id)} c WHERE ${column} = ?${fresh ? ' AND c.archived_at IS NULL' : ''} AND ${where.text} LIMIT 1)`,
      values: [value, ...where.values],
    };
  });
  if (parts.length === 0) return [];
  const rows = await ask<{ found: ([unknown, Record<string, unknown>] | null)[] }>(
    database,
    `SELECT json_build_array(${parts.map((part) => part.text).join(', ')}) AS found`,
    parts.flatMap((part) => part.values),
  );
  return parts.map((part, n) => {
    const found = rows[0]?.found[n];
    if (!found) return undefined;
    return {
      title: part.word ? String(found[0]) : showTitle(part.tables, part.table, found[0]),
      facts: readFacts(part.tables, part.table.id, found[1]),
    };
  });
}

/** How many records of one key a person is given to choose from. */
const SEVERAL = 20;

async function findBy(
  database: Queryable,
  tables: Tables,
  tableId: TableId,
  column: string,
  key: Value,
  paths: readonly string[],
  inUse: boolean,
): Promise<FoundRecord[]> {
  const table = tables.get(tableId);
  if (!table) return [];
  const read = pathsSeen(tables, tableId, paths);
  const rows = await ask<{ id: number; title: unknown; facts: Record<string, unknown> }>(
    database,
    `SELECT f.id, ${titleSql(tables, table, 'f')} AS title, ${factsSql(tables, tableId, 'f', read)} AS facts
     FROM ${recordsOf(tables, tableId)} f WHERE f.${quoted(column)} = ?${inUse ? ' AND f.archived_at IS NULL' : ''} ORDER BY f.id LIMIT ${SEVERAL}`,
    [key],
  );
  return rows.map((row) => ({
    id: Number(row.id),
    title: showTitle(tables, table, row.title),
    facts: readFacts(tables, tableId, row.facts),
  }));
}

/** The record that a link points at, as `tables` has it, with the columns that the form reads. Archived ones stay readable. */
export async function findById(
  database: Queryable,
  tables: Tables,
  field: PreparedField,
  id: number,
): Promise<FoundRecord | undefined> {
  const table = linkedTable(field.field);
  return table === undefined ? undefined : (await findBy(database, tables, table, 'id', id, field.factPaths, false))[0];
}

/** The records in use, as `tables` has them, whose key column holds what was typed: none, one, or several. */
export async function findByKey(
  database: Queryable,
  tables: Tables,
  form: PreparedForm,
  field: PreparedField,
  key: Value,
): Promise<FoundRecord[]> {
  const { fill } = field;
  const column = fill && findField(tables.get(fill.table), fill.key ?? '');
  if (!fill || !column) return [];
  const read = typeOf(column).accept(key, column.settings);
  if (!read.ok || read.value === null) return [];
  // A link that is filled with the record itself wants its own facts, too.
  const paths = fill.pairs.flatMap((pair) =>
    pair.from === 'self' ? (form.fields.get(pair.to)?.factPaths ?? []) : [pair.from],
  );
  return findBy(database, tables, fill.table, column.id, read.value, [...new Set(paths)], true);
}
