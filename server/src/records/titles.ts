import { isBlank, type Value } from '@fiche/core/fields';
import { quoted, recordsOf } from '@fiche/core/queries';
import {
  type FieldDefinition,
  linkedTable,
  type RecordId,
  type TableDefinition,
  type TableId,
  type Tables,
  titleFields,
  typeOf,
  writeTitle,
} from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';

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
    return `(SELECT ${titleSql(tables, target, inner, depth + 1)} FROM ${recordsOf(tables, target.id)} ${inner} WHERE ${inner}.id = ${alias}.${quoted(field.id)})`;
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
 * The titles of records as they are now, one question a table, by `table:id`: of those that the tables let see, so that
 * what has no title there is not there for the reader.
 */
export async function titlesOf(
  app: Database | Transaction,
  tables: Tables,
  wanted: readonly { readonly table: TableId; readonly id: RecordId }[],
): Promise<Map<string, string>> {
  const titles = new Map<string, string>();
  for (const id of new Set(wanted.map((one) => one.table))) {
    const table = tables.get(id);
    if (!table) continue;
    const records = [...new Set(wanted.filter((one) => one.table === id).map((one) => one.id))];
    const { rows } = await app.raw<{ rows: { id: number; title: unknown }[] }>(
      `SELECT t.id, ${titleSql(tables, table, 't')} AS title FROM ${recordsOf(tables, id)} t WHERE t.id = ANY(?)`,
      [records],
    );
    for (const row of rows) titles.set(`${id}:${row.id}`, showTitle(tables, table, row.title));
  }
  return titles;
}
