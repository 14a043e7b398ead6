import type { TableDefinition, TableId, Tables } from '../tables/index.ts';
import { quoted } from './quoted.ts';

/** The PostgreSQL table that holds a table's records. */
export const relation = (table: TableId): string => `"data".${quoted(table)}`;

/**
 * The tables as somebody sees them: without what is hidden from them and, where they see some records of a table only,
 * with the limit on these. Whatever reads records of tables by `recordsOf` stays within it.
 */
export class SeenTables extends Map<TableId, TableDefinition> {
  /**
   * `limits` are SQL conditions over the alias `s`, without bound values, by table; `whole` are all tables as they are. `sources`
   * are read in place of the tables: their records as they stood once, within the limits already.
   */
  constructor(
    tables: Tables,
    readonly whole: Tables,
    private readonly limits: ReadonlyMap<TableId, string>,
    private readonly sources: ReadonlyMap<TableId, string> = new Map(),
  ) {
    super(tables);
  }

  /** Other definitions of the same tables, with the same limits on their records. */
  withDefinitions(tables: Tables): SeenTables {
    return new SeenTables(tables, this.whole, this.limits, this.sources);
  }

  /** The same tables, of which one is read from another source. */
  withSource(table: TableId, source: string): SeenTables {
    return new SeenTables(this, this.whole, this.limits, new Map(this.sources).set(table, source));
  }

  sourceOf(table: TableId): string | undefined {
    return this.sources.get(table);
  }

  limitOf(table: TableId): string | undefined {
    return this.limits.get(table);
  }
}

/**
 * What stands behind FROM to read records of a table: all of them, or those that `tables` lets somebody see. PostgreSQL
 * reads it like the table itself, with the limit among the conditions around it.
 */
export function recordsOf(tables: Tables, table: TableId): string {
  const source = tables instanceof SeenTables ? tables.sourceOf(table) : undefined;
  if (source !== undefined) return source;
  const limit = tables instanceof SeenTables ? tables.limitOf(table) : undefined;
  return limit === undefined ? relation(table) : `(SELECT s.* FROM ${relation(table)} s WHERE ${limit})`;
}

/** Whether records of a table are read as they stood at some moment of the past. */
export const isPast = (tables: Tables, table: TableId): boolean =>
  tables instanceof SeenTables && tables.sourceOf(table) !== undefined;

/** Whether somebody sees a table as it is: every field of every record. */
export const seesAllOf = (tables: Tables, table: TableId): boolean =>
  !(tables instanceof SeenTables) ||
  (!isLimited(tables, table) && tables.get(table)?.fields === tables.whole.get(table)?.fields);

/** A table with all of its fields, whatever of them `tables` has. */
export const wholeTable = (tables: Tables, table: TableDefinition): TableDefinition =>
  (tables instanceof SeenTables ? tables.whole.get(table.id) : undefined) ?? table;

/** Whether somebody sees only some of the records of a table. */
export const isLimited = (tables: Tables, table: TableId): boolean =>
  tables instanceof SeenTables && tables.limitOf(table) !== undefined;
