import type { LineView } from '@fiche/core/api';
import { isLimited, relation } from '@fiche/core/queries';
import type { FieldId, RecordId, TableDefinition, TableId } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';

/** Whether a record is not there any more, and the caller reads the histories of such records too. */
export async function wasErased(app: Database, { seen }: Definitions, table: TableId, id: RecordId): Promise<boolean> {
  if (seen && (seen.role.history !== 'all' || isLimited(seen.rows, table))) return false;
  const { rows } = await app.raw<{ rows: unknown[] }>(`SELECT FROM ${relation(table)} WHERE id = ?`, [id]);
  return rows.length === 0;
}

/** The fields of a table, those out of use too, that the caller does not see. */
export function hiddenFields({ seen }: Definitions, table: TableDefinition): FieldId[] {
  const whole = seen?.whole.tables.get(table.id);
  if (!whole || whole === table) return [];
  const shown = new Set([...table.fields, ...table.retired].map((field) => field.id));
  return [...whole.fields, ...whole.retired].map((field) => field.id).filter((id) => !shown.has(id));
}

/** Lines without those that changed nothing that the caller sees. */
export const withoutEmpty = (lines: readonly LineView[], { tables, seen }: Definitions): LineView[] =>
  tables === seen?.whole.tables || !seen
    ? [...lines]
    : lines.filter((line) => line.table === null || line.kind !== 'change' || line.changes.length > 0);

/** Captured columns without those that the caller does not see. */
export function withoutHidden(
  captured: Record<string, unknown> | null,
  hidden: readonly FieldId[],
): Record<string, unknown> | null {
  if (!captured || hidden.length === 0) return captured;
  return Object.fromEntries(Object.entries(captured).filter(([column]) => !hidden.includes(column)));
}
