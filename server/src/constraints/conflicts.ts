import { quoted, relation } from '@fiche/core/queries';
import type { TableDefinition } from '@fiche/core/tables';
import { heldName } from './constraints.ts';
import { rangeSql } from './range.ts';

/** Something that the database refuses of a new row `v` because of a row that is there. */
export interface Conflict {
  /** True for a row `v` that would be refused, as SQL. */
  readonly sql: string;
  /** What PostgreSQL would say of it, as `constraintProblem` reads it. */
  readonly error: {
    readonly table: string;
    readonly code: string;
    readonly constraint?: string;
    readonly detail?: string;
  };
}

/**
 * What could refuse a new row of which some columns are given: unique fields and rules over several, asked beforehand so
 * that a refused save draws no number of a sequence. The indexes stay what decides between saves at one moment.
 */
export function conflictsOf(table: TableDefinition, given: readonly string[]): Conflict[] {
  const place = relation(table.id);
  const known = new Set(given);
  const same = (ids: readonly string[]): string => ids.map((id) => `o.${quoted(id)} = v.${quoted(id)}`).join(' AND ');
  const fields = table.fields
    .filter((field) => field.unique && known.has(field.id))
    .map(
      (field): Conflict => ({
        sql: `EXISTS (SELECT 1 FROM ${place} o WHERE ${same([field.id])})`,
        error: { table: table.id, code: '23505', detail: `Key (${field.id})` },
      }),
    );
  const rules = table.constraints.flatMap((one): Conflict[] => {
    const constraint = heldName(table.id, 'rule', one.id);
    if (one.kind === 'unique')
      return one.fields.every((id) => known.has(id))
        ? [
            {
              sql: `EXISTS (SELECT 1 FROM ${place} o WHERE ${same(one.fields)})`,
              error: { table: table.id, code: '23505', constraint },
            },
          ]
        : [];
    if (![...one.same, one.from, one.to].every((id) => known.has(id))) return [];
    const equal = one.same.length === 0 ? '' : `${same(one.same)} AND `;
    const overlaps = `${rangeSql(table, one, 'o')} && ${rangeSql(table, one, 'v')}`;
    return [
      {
        sql: `(v.${quoted(one.from)} IS NOT NULL AND EXISTS (SELECT 1 FROM ${place} o WHERE ${equal}${overlaps} AND o.archived_at IS NULL AND o.${quoted(one.from)} IS NOT NULL))`,
        error: { table: table.id, code: '23P01', constraint },
      },
    ];
  });
  return [...fields, ...rules];
}

/** An error as PostgreSQL would raise it for a conflict. */
export const conflictError = ({ error }: Conflict): Error =>
  Object.assign(new Error('The row would be refused'), error);
