import type { Value, Values } from '@fiche/core/fields';
import { quoted, recordsOf } from '@fiche/core/queries';
import { fieldAtPath, findField, linkedTable, type TableId, type Tables, typeOf } from '@fiche/core/tables';

/**
 * A column reached by a path from `table` through links, as a scalar SQL expression: `owner.phone` becomes a
 * subquery on the linked record.
 */
export function pathSql(tables: Tables, table: TableId, alias: string, path: string): string {
  const dot = path.indexOf('.');
  if (dot < 0) return `${alias}.${quoted(path)}`;
  const step = path.slice(0, dot);
  const next = linkedTable(findField(tables.get(table), step));
  if (next === undefined) throw new Error(`${table}.${path} is not a path through links`);
  const inner = `${alias}_${step}`;
  return `(SELECT ${pathSql(tables, next, inner, path.slice(dot + 1))} FROM ${recordsOf(tables, next)} ${inner} WHERE ${inner}.id = ${alias}.${quoted(step)})`;
}

/** The facts of a linked record as one JSON expression: `{ "owner.phone": … }`. */
export function factsSql(tables: Tables, table: TableId, alias: string, paths: readonly string[]): string {
  const parts = paths.map((path) => `'${path}', ${pathSql(tables, table, alias, path)}`);
  return parts.length === 0 ? `'{}'::json` : `json_build_object(${parts.join(', ')})`;
}

/** The facts of a record of `table` as `factsSql` gives them, each in its type's canonical form. */
export const readFacts = (tables: Tables, table: TableId, json: Record<string, unknown>): Values =>
  Object.fromEntries(
    Object.entries(json).map(([path, value]): [string, Value] => {
      const field = fieldAtPath(tables, table, path);
      return [path, value === null || !field ? (value as Value) : typeOf(field).stored(value)];
    }),
  );
