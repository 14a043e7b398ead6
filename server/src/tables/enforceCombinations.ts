import { quoted, relation } from '@fiche/core/queries';
import { COMBINATION, type TableId, typeOf } from '@fiche/core/tables';
import { heldName } from '../constraints/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import { loadDefinitions, loadTable } from '../definitions/index.ts';

/** As many columns as PostgreSQL can index together. */
const MOST = 32;

/**
 * Lets the database enforce that no combination of an option list that is in use occurs twice, over the levels that the list
 * has now. Other tables are left alone, and lists that have some twice from before this was enforced: until these are corrected,
 * only new ones are refused. As the owner. Returns whether it is enforced.
 */
export async function enforceCombinations(owner: Transaction | Database, tableId: TableId): Promise<boolean> {
  const table = await loadTable(owner, tableId);
  const fields = table?.fields.filter((field) => typeOf(field).editable) ?? [];
  if (table?.kind !== 'list' || fields.length === 0 || fields.length > MOST) return false;
  const name = quoted(heldName(tableId, 'rule', COMBINATION));
  // Long words do not fit into an index; their hashes do.
  const columns = fields
    .map((field) => (typeOf(field).family === 'text' ? `md5(${quoted(field.id)})` : quoted(field.id)))
    .join(', ');
  await owner.raw(`DROP INDEX IF EXISTS data.${name}`);
  const { rows } = await owner.raw<{ rows: unknown[] }>(
    `SELECT 1 FROM ${relation(tableId)} WHERE archived_at IS NULL GROUP BY ${fields.map((field) => quoted(field.id)).join(', ')} HAVING count(*) > 1 LIMIT 1`,
  );
  if (rows.length > 0) return false;
  await owner.raw(
    `CREATE UNIQUE INDEX ${name} ON ${relation(tableId)} (${columns}) NULLS NOT DISTINCT WHERE archived_at IS NULL`,
  );
  return true;
}

/** Holds the combinations of every list that an earlier version left without. As the owner, when the server starts. */
export async function enforceAllCombinations(owner: Database): Promise<void> {
  const { tables } = await loadDefinitions(owner);
  const { rows } = await owner.raw<{ rows: { name: string }[] }>(
    `SELECT relname AS name FROM pg_class WHERE relnamespace = 'data'::regnamespace AND relkind = 'i' AND relname LIKE 'rule\\_%'`,
  );
  const held = new Set(rows.map((row) => row.name));
  for (const table of tables.values())
    if (table.kind === 'list' && !held.has(heldName(table.id, 'rule', COMBINATION)))
      await owner.transaction((transaction) => enforceCombinations(transaction, table.id));
}
