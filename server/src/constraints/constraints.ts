import { createHash } from 'node:crypto';
import { say, sayLater } from '@fiche/core/languages';
import { COMBINATION, constraintFields, type TableDefinition, type TableId } from '@fiche/core/tables';
import { type Refusal, unacceptable } from '../http/index.ts';
import { constraintSql } from './kinds/registry.ts';

/**
 * The name of what the database holds for a table: an index or a constraint. Fits PostgreSQL's 63 bytes whatever the
 * table is called, and says which field or rule it is for where an error names it.
 */
export const heldName = (table: TableId, kind: 'unique' | 'order' | 'rule' | 'required' | 'link', id: string): string =>
  `${kind}_${createHash('sha1').update(`${table}.${id}`).digest('hex').slice(0, 16)}`;

/** What is said of a combination that an option list has already. */
export const COMBINATION_TWICE = sayLater(
  'This combination is in the list already. Change one of its levels, or remove it.',
);

interface DatabaseError {
  /** The table that refused, where PostgreSQL says it. */
  readonly table?: TableId;
  readonly code?: string;
  readonly detail?: string;
  readonly constraint?: string;
  readonly column?: string;
}

/** A constraint of the database that refused to write a record, said at its field; undefined for any other error, one of another table included. */
export function constraintProblem(table: TableDefinition, error: unknown): Refusal | undefined {
  const { table: of, code, detail = '', constraint, column: at } = error as DatabaseError;
  if (of !== undefined && of !== table.id) return undefined;
  const labelOf = (id: string): string => table.fields.find((field) => field.id === id)?.label ?? id;
  const problem = (path: string, rule: string, message: string): Refusal => unacceptable([{ path, rule, message }]);
  const rule = table.constraints.find((one) => heldName(table.id, 'rule', one.id) === constraint);
  if (rule && constraintSql(rule).codes.includes(code ?? ''))
    return problem(constraintFields(rule).at(-1) ?? '', rule.id, rule.message);
  if (constraint === heldName(table.id, 'rule', COMBINATION))
    return problem(table.fields.at(-1)?.id ?? '', 'twice', say(COMBINATION_TWICE));
  if (code === 'FI001' && at !== undefined)
    return problem(
      at,
      'circle',
      say('{field} leads back to this record: a record cannot be above itself. Choose another.', {
        field: labelOf(at),
      }),
    );
  if (code === '23502' && at !== undefined)
    return problem(
      at,
      'required',
      say('{field} is required. Fill it in, or add it to the form.', { field: labelOf(at) }),
    );
  const column = /^Key \("?(\w+)"?\)/.exec(detail)?.[1] ?? '';
  if (code === '23505')
    return problem(
      column,
      'unique',
      say('Another record already has this {field}. It must be different in each record.', { field: labelOf(column) }),
    );
  if (code === '23503')
    return problem(
      column,
      'link',
      say('The record chosen for {field} is not there any more. Choose another.', { field: labelOf(column) }),
    );
  return undefined;
}
