import { say } from '@fiche/core/languages';
import { relation } from '@fiche/core/queries';
import { type Action, limitSql, rightTo, type Verdict } from '@fiche/core/rights';
import type { RecordId, TableDefinition } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { notFound, Refusal } from '../http/index.ts';

/** A verdict for the caller, over records that a query knows as `alias`; null where it holds for all. */
export function callersLimit(
  { seen }: Definitions,
  table: TableDefinition,
  alias: string,
  verdictOf: (seen: NonNullable<Definitions['seen']>) => Verdict,
): string | null {
  return seen ? limitSql(seen.whole.tables, table.id, alias, verdictOf(seen), seen.asking) : null;
}

/** Whether a right of the caller to a table holds for some of its records only, so that each has to be asked about. */
export const isPartial = ({ seen }: Definitions, table: TableDefinition, action: Action): boolean =>
  seen !== undefined && typeof rightTo(seen.role, action, table) === 'object';

/**
 * Checks that the caller may do something with each of these records, as they are in this transaction. Throws 404 for one
 * that the caller does not see, 403 for one that is seen and no more.
 */
export async function requireRecords(
  database: Database | Transaction,
  definitions: Definitions,
  table: TableDefinition,
  action: Action,
  records: readonly RecordId[],
): Promise<void> {
  const may = callersLimit(definitions, table, 'r', ({ role }) => rightTo(role, action, table));
  if (may === null || records.length === 0) return;
  const sees = callersLimit(definitions, table, 'r', ({ role }) => rightTo(role, 'see', table)) ?? 'TRUE';
  const { rows } = await database.raw<{ rows: { sees: boolean | null; may: boolean | null }[] }>(
    `SELECT ${sees} AS sees, ${may} AS may FROM ${relation(table.id)} r WHERE r.id = ANY(?)`,
    [[...records]],
  );
  if (action !== 'add' && rows.some((row) => !row.sees))
    throw notFound(say('This record of {label}', { label: table.label }));
  if (rows.some((row) => !row.may))
    throw new Refusal(
      403,
      action === 'add'
        ? say(
            'Your role may add to {label} only records of its own range, and this is none. Look at its fields, or ask an administrator.',
            { label: table.label },
          )
        : say('Your role may not {action} this record of {label}. Ask an administrator for the right.', {
            action,
            label: table.label,
          }),
    );
}
