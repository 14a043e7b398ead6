import type { Constraint, TableDefinition } from '@fiche/core/tables';

/** What a rule compares the rows of an import with; all names are SQL. */
export interface ImportedRows {
  /** The rows that wait, known as `s` where they are asked about: `"row#"`, `"record#"`, `"action#"` and the columns of the table. */
  readonly staging: string;
  /** The table they go into; undefined while the import makes it. */
  readonly place: string | undefined;
  /**
   * A query of the rows that will be there, each with `number`, its place in the file or null for a record that stays as
   * it is, and these columns. Archived records are left out.
   */
  all(columns: readonly string[]): string;
}

/** One kind of rule between records as the database holds it. SQL only; nothing here is run. */
export interface ConstraintSql<C extends Constraint = Constraint> {
  /** With which codes PostgreSQL refuses what breaks it. */
  readonly codes: readonly string[];
  /** An index of this name, for building beside the writers; undefined where what holds the rule makes its own. */
  index(table: TableDefinition, constraint: C, name: string): string | undefined;
  /** Statements that make the database hold it under this name; they may find the index made. */
  hold(table: TableDefinition, constraint: C, name: string): readonly string[];
  /** Statements that take it away again. */
  release(table: TableDefinition, name: string): readonly string[];
  /** Records `r` that break it among those that are there, the fields to show of them, and why in words. */
  breakers(table: TableDefinition, constraint: C): { where: string; shown: readonly string[]; why: string };
  /** True when a new row `v` would be refused because of what is there. */
  conflict(table: TableDefinition, constraint: C): string;
  /** Conditions on rows `s` of an import that break it, with one another or with what is there. */
  amongRows(table: TableDefinition, constraint: C, rows: ImportedRows): readonly string[];
}
