import { namesPeople } from '@fiche/core/fields';
import { quoted, relation } from '@fiche/core/queries';
import type { FieldDefinition, TableId } from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';

/** How many records the staged rows assign to each account that did not stand in them before. */
export async function countAssigned(
  transaction: Transaction,
  staging: string,
  table: TableId,
  fields: readonly FieldDefinition[],
): Promise<Map<string, number>> {
  const named = fields.filter((field) => namesPeople(field)).map((field) => quoted(field.id));
  const counts = new Map<string, number>();
  for (const column of named) {
    const { rows } = await transaction.raw<{ rows: { login: string; n: number }[] }>(
      `SELECT s.${column} AS login, count(*) AS n FROM ${staging} s
       LEFT JOIN ${relation(table)} r ON r.id = s."record#" AND s."action#" = 'change'
       WHERE s."action#" IN ('add', 'change') AND s.${column} IS NOT NULL AND r.${column} IS DISTINCT FROM s.${column} GROUP BY 1`,
    );
    for (const { login, n } of rows) counts.set(login, (counts.get(login) ?? 0) + n);
  }
  return counts;
}
