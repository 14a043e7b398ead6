import { linksOne } from '@fiche/core/fields';
import { quoted, relation } from '@fiche/core/queries';
import { type FieldDefinition, type RecordId, type TableDefinition, targetTable } from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';

/** So many links at most are followed from record to record. */
const DEEPEST = 50;

/** One of the records that are to be merged leads to another one of them, by links of their own table. */
export interface LinkWithin {
  readonly from: RecordId;
  readonly to: RecordId;
  readonly field: FieldDefinition;
}

/** Finds two of some records of a table that are linked to one another, however far: merged they would be linked to themselves. */
export async function findLinkWithin(
  transaction: Transaction,
  table: TableDefinition,
  ids: readonly RecordId[],
): Promise<LinkWithin | undefined> {
  const own = [...table.fields, ...table.retired].filter((field) => targetTable(field) === table.id);
  for (const field of own) {
    const column = `r.${quoted(field.id)}`;
    const next = linksOne(field) ? column : `unnest(${column})`;
    const { rows } = await transaction.raw<{ rows: { start: number; id: number }[] }>(
      `WITH RECURSIVE led AS (
         SELECT r.id AS start, ${next} AS id, 1 AS depth FROM ${relation(table.id)} r WHERE r.id = ANY(?)
         UNION
         SELECT l.start, n.id, l.depth + 1 FROM led l JOIN LATERAL (SELECT ${next} AS id FROM ${relation(table.id)} r WHERE r.id = l.id) n ON TRUE
         WHERE l.depth < ${linksOne(field) ? DEEPEST : 1})
       SELECT start, id FROM led WHERE id = ANY(?) AND id <> start LIMIT 1`,
      [[...ids], [...ids]] as unknown as string[],
    );
    if (rows[0]) return { from: Number(rows[0].start), to: Number(rows[0].id), field };
  }
  return undefined;
}
