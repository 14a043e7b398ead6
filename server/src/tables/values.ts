import type { Value } from '@fiche/core/fields';
import { quoted, relation } from '@fiche/core/queries';
import type { FieldDefinition, TableDefinition } from '@fiche/core/tables';
import { heldName } from '../constraints/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { notFound, Refusal } from '../http/index.ts';

/** Records a step: few enough that nobody waits for a row, many enough to be quick. */
export const STEP = 5_000;

export const tableOf = async (owner: Database | Transaction, id: string | null): Promise<TableDefinition> => {
  const table = (await loadDefinitions(owner)).tables.get(id ?? '');
  if (!table) throw notFound('This table');
  return table;
};

/** SQL that reads `value` (text) as a column type; lists come as JSON. */
const castSql = (value: string, type: string): string =>
  type.endsWith('[]')
    ? `CASE WHEN ${value} IS NOT NULL THEN ARRAY(SELECT jsonb_array_elements_text(${value}::jsonb))::${type} END`
    : `${value}::${type}`;

const asText = (value: Value): string | null =>
  value === null ? null : typeof value === 'object' ? JSON.stringify(value) : String(value);

/** Writes values of one column by record. As whoever the transaction's actor is. */
export const writeColumn = (
  owner: Transaction,
  table: string,
  column: string,
  type: string,
  ids: readonly number[],
  values: readonly Value[],
): Promise<unknown> =>
  owner.raw(
    `UPDATE ${relation(table)} r SET ${quoted(column)} = ${castSql('v.value', type)} FROM unnest(?::bigint[], ?::text[]) AS v(id, value) WHERE r.id = v.id`,
    [[...ids], values.map(asText) as string[]],
  );

export async function countRows(owner: Database, table: string): Promise<number> {
  const { rows } = await owner.raw<{ rows: { n: number }[] }>(`SELECT count(*) AS n FROM ${relation(table)}`);
  return rows[0]?.n ?? 0;
}

/** Makes a field unique without keeping writers waiting. */
export async function makeUnique(owner: Database, table: string, field: FieldDefinition): Promise<void> {
  const name = quoted(heldName(table, 'unique', field.id));
  await owner.raw(`DROP INDEX CONCURRENTLY IF EXISTS data.${name}`);
  await concurrently(
    owner,
    name,
    `CREATE UNIQUE INDEX CONCURRENTLY ${name} ON ${relation(table)} (${quoted(field.id)})`,
  );
}

/** Builds an index beside the writers; one that could not be built is taken away again. */
export async function concurrently(owner: Database, name: string, sql: string): Promise<void> {
  try {
    await owner.raw(sql);
  } catch (error) {
    await owner.raw(`DROP INDEX CONCURRENTLY IF EXISTS data.${name}`);
    throw error;
  }
}

/** What the database refused, in words; any other error as it is. */
export const asConstraint = (error: unknown, words: string): unknown =>
  ['23505', '23502', '23514', '23P01'].includes((error as { code?: string }).code ?? '')
    ? new Refusal(422, words)
    : error;
