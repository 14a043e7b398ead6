import type { Value } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import { quoted, relation } from '@fiche/core/queries';
import type { FieldDefinition, TableDefinition, TableId } from '@fiche/core/tables';
import { heldName } from '../constraints/index.ts';
import { asActor, type Database, type Transaction } from '../database/index.ts';
import { loadTable } from '../definitions/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import type { Work } from '../tasks/index.ts';

/** Records a step: few enough that nobody waits for a row, many enough to be quick. */
export const STEP = 5_000;

export const tableOf = async (owner: Database | Transaction, id: string | null): Promise<TableDefinition> => {
  const table = await loadTable(owner, id ?? '');
  if (!table) throw notFound(say('This table'));
  return table;
};

/** SQL that reads `value` (text) as a column type; lists come as JSON. */
const castSql = (value: string, type: string): string =>
  type.endsWith('[]')
    ? `CASE WHEN ${value} IS NOT NULL THEN ARRAY(SELECT jsonb_array_elements_text(${value}::jsonb))::${type} END`
    : `${value}::${type}`;

const asText = (value: Value): string | null =>
  value === null ? null : typeof value === 'object' ? JSON.stringify(value) : String(value);

/**
 * Writes values of one column by record. As whoever the transaction's actor is. With `unlike`, only those that read
 * differently from another column of the record (`yes`), or only the others (`no`).
 */
export const writeColumn = (
  owner: Transaction,
  table: TableId,
  column: string,
  type: string,
  ids: readonly number[],
  values: readonly Value[],
  unlike?: { readonly column: string; readonly is: 'yes' | 'no' },
): Promise<unknown> => {
  const value = castSql('v.value', type);
  const only = unlike
    ? ` AND to_jsonb(r.${quoted(unlike.column)}) IS ${unlike.is === 'yes' ? '' : 'NOT '}DISTINCT FROM to_jsonb(${value})`
    : '';
  return owner.raw(
    `UPDATE ${relation(table)} r SET ${quoted(column)} = ${value} FROM unnest(?::bigint[], ?::text[]) AS v(id, value) WHERE r.id = v.id${only}`,
    [[...ids], values.map(asText) as string[]],
  );
};

/** Blanks a column that is going to be dropped, step by step, so that each record's lines say so. */
export async function blankColumn(work: Work, table: TableId, column: string, where = 'true'): Promise<void> {
  const name = quoted(column);
  for (;;) {
    const { rowCount } = await asActor(work.databases.owner, work.actor, (owner) =>
      owner.raw<{ rowCount: number }>(
        `UPDATE ${relation(table)} SET ${name} = NULL WHERE id IN (SELECT id FROM ${relation(table)} WHERE ${name} IS NOT NULL AND ${where} LIMIT ${STEP} FOR UPDATE)`,
      ),
    );
    if (rowCount < STEP) return;
  }
}

export async function countRows(owner: Database, table: TableId): Promise<number> {
  const { rows } = await owner.raw<{ rows: { n: number }[] }>(`SELECT count(*) AS n FROM ${relation(table)}`);
  return rows[0]?.n ?? 0;
}

/** Makes a field unique without keeping writers waiting. */
export async function makeUnique(owner: Database, table: TableId, field: FieldDefinition): Promise<void> {
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
