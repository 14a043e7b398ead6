import type { RecordView } from '@fiche/core/api';
import type { Value, Values } from '@fiche/core/fields';
import { type TableDefinition, typeOf } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';

/** What happened to a record since somebody saw it. */
export interface Since {
  /** The values as that person saw them. */
  readonly base: Values;
  /** Who changed each field last since then. */
  readonly by: ReadonlyMap<string, string>;
}

/** A record as it stood at an earlier version, and who has changed what since, out of its lines in the ledger. */
export async function changedSince(
  database: Database | Transaction,
  table: TableDefinition,
  record: RecordView,
  version: number,
): Promise<Since> {
  const { rows } = await database.raw<{
    rows: { account: string; before: Record<string, unknown> | null; after: Record<string, unknown> | null }[];
  }>(
    `SELECT account, before, after FROM ledger.line WHERE place = ? AND record = ? AND at >= ?::timestamptz ORDER BY id OFFSET ? LIMIT 1000`,
    [`data.${table.id}`, String(record.id), record.stamp.createdAt, version],
  );
  const base: Record<string, Value> = { ...record.values };
  const by = new Map<string, string>();
  for (const row of [...rows].reverse())
    for (const field of table.fields) {
      if (!(field.id in (row.after ?? {})) && !(field.id in (row.before ?? {}))) continue;
      const before = row.before?.[field.id] ?? null;
      base[field.id] = before === null ? null : typeOf(field).stored(before);
      if (!by.has(field.id)) by.set(field.id, row.account);
    }
  return { base, by };
}
