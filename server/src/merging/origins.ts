import type { RecordId, TableId, Tables } from '@fiche/core/tables';
import type { Transaction } from '../database/index.ts';
import { keepOrigins, type Origins, originsOfRecords } from '../records/index.ts';
import type { Linking } from './linking.ts';

/**
 * Lets values that records were filled with from a record that is merged away come from the one that stays, so that their cards show
 * what that says today. The values themselves are copies, and stay.
 */
export async function moveOrigins(
  write: Transaction,
  tables: Tables,
  { table, ids }: Linking,
  from: { readonly table: TableId; readonly merged: readonly RecordId[] },
  stays: { readonly id: RecordId; readonly title: string },
): Promise<void> {
  const known = await originsOfRecords(write, tables, table.id, ids);
  const moved = [...known].flatMap(([record, origins]): [RecordId, Origins][] => {
    const next = Object.fromEntries(
      Object.entries(origins).map(([field, origin]) =>
        origin.table === from.table && from.merged.includes(origin.record)
          ? [field, { ...origin, record: stays.id, title: stays.title }]
          : [field, origin],
      ),
    );
    return JSON.stringify(next) === JSON.stringify(origins) ? [] : [[record, next]];
  });
  await keepOrigins(write, table.id, moved);
}
