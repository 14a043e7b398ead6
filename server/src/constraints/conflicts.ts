import { constraintFields, type TableDefinition, type TableId } from '@fiche/core/tables';
import { heldName } from './constraints.ts';
import { constraintSql } from './kinds/registry.ts';
import { alreadyThere } from './kinds/unique.ts';

/** Something that the database refuses of a new row `v` because of a row that is there. */
export interface Conflict {
  /** True for a row `v` that would be refused, as SQL. */
  readonly sql: string;
  /** What PostgreSQL would say of it, as `constraintProblem` reads it. */
  readonly error: {
    readonly table: TableId;
    readonly code: string;
    readonly constraint?: string;
    readonly detail?: string;
  };
}

/**
 * What could refuse a new row of which some columns are given: unique fields and rules over several, asked beforehand so
 * that a refused save draws no number of a sequence. What holds the rules in the database stays what decides between saves at one moment.
 */
export function conflictsOf(table: TableDefinition, given: readonly string[]): Conflict[] {
  const known = new Set(given);
  const fields = table.fields
    .filter((field) => field.unique && known.has(field.id))
    .map(
      (field): Conflict => ({
        sql: alreadyThere(table.id, [field.id]),
        error: { table: table.id, code: '23505', detail: `Key (${field.id})` },
      }),
    );
  const rules = table.constraints
    .filter((one) => constraintFields(one).every((id) => known.has(id)))
    .map((one): Conflict => {
      const { codes, conflict } = constraintSql(one);
      return {
        sql: conflict(table, one),
        error: { table: table.id, code: codes[0] ?? '', constraint: heldName(table.id, 'rule', one.id) },
      };
    });
  return [...fields, ...rules];
}

/** An error as PostgreSQL would raise it for a conflict. */
export const conflictError = ({ error }: Conflict): Error =>
  Object.assign(new Error('The row would be refused'), error);
