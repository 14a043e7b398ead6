import { say } from '@fiche/core/languages';
import type { TableDefinition, TableId, Tables } from '@fiche/core/tables';
import { type Listing, listingProblems } from '@fiche/core/views';
import type { Transaction } from '../database/index.ts';

/** The labels of shared views that would not be sound any more once a table is as `next`, also views of other tables. */
export async function viewsReading(owner: Transaction, all: Tables, next: TableDefinition): Promise<string[]> {
  const { rows } = await owner.raw<{ rows: { label: string; table: TableId; definition: Listing }[] }>(
    'SELECT label, table_id AS "table", definition FROM fiche.view WHERE shared AND table_id = ANY(?) ORDER BY label, id',
    [[...all.keys()]],
  );
  const after = new Map(all).set(next.id, next);
  const faults = (tables: Tables, id: TableId, listing: Listing): number => {
    const table = tables.get(id);
    return table ? listingProblems(listing, table, tables).length : 0;
  };
  return rows
    .filter(({ table, definition }) => faults(after, table, definition) > faults(all, table, definition))
    .map(({ label, table }) =>
      say('the view “{view}” of {table}', { view: label, table: all.get(table)?.label ?? table }),
    );
}
