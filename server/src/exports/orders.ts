import type { ExportOrder, ExportState } from '@fiche/core/api';
import type { TableId } from '@fiche/core/tables';
import type { Database } from '../database/index.ts';

/** An export that somebody has asked for: what it writes, and how far it is. Kept for an hour. */
export interface StoredExport extends ExportState {
  readonly what: ExportOrder;
}

const COLUMNS = 'id, total, done, state, what';
const viewOf = ({ id, total, done, state, what }: StoredExport): StoredExport => ({ id, total, done, state, what });

/** Keeps what is to be exported, under a number that nobody guesses. */
export async function addExport(
  app: Database,
  { table, login, what, total }: { table: TableId; login: string; what: ExportOrder; total: number },
): Promise<StoredExport> {
  const { rows } = await app.raw<{ rows: StoredExport[] }>(
    `INSERT INTO fiche.export (table_id, account, what, total) VALUES (?, ?, ?, ?) RETURNING ${COLUMNS}`,
    [table, login, JSON.stringify(what), total],
  );
  return viewOf(rows[0] as StoredExport);
}

/** An export that an account has asked for; undefined for any other. */
export async function findExport(
  app: Database,
  { table, login, id }: { table: TableId; login: string; id: string },
): Promise<StoredExport | undefined> {
  const { rows } = await app.raw<{ rows: StoredExport[] }>(
    `SELECT ${COLUMNS} FROM fiche.export WHERE id::text = ? AND table_id = ? AND account = ?`,
    [id, table, login],
  );
  return rows[0] && viewOf(rows[0]);
}

/** Says how far an export is. Gives false where it has been cancelled, and stays so. */
export async function reportExport(
  app: Database,
  id: string,
  { state, done }: Pick<ExportState, 'state' | 'done'>,
): Promise<boolean> {
  const { rows } = await app.raw<{ rows: object[] }>(
    `UPDATE fiche.export SET state = ?, done = ? WHERE id = ? AND state <> 'cancelled' RETURNING id`,
    [state, done, id],
  );
  return rows.length > 0;
}

/** Takes an export up, once: gives false where its file is being downloaded already, or has been. */
export async function beginExport(app: Database, id: string): Promise<boolean> {
  const { rows } = await app.raw<{ rows: object[] }>(
    `UPDATE fiche.export SET state = 'running' WHERE id = ? AND state = 'waiting' RETURNING id`,
    [id],
  );
  return rows.length > 0;
}

/** Cancels an export that is not over. */
export async function cancelExport(app: Database, id: string): Promise<void> {
  await app.raw(`UPDATE fiche.export SET state = 'cancelled' WHERE id = ? AND state IN ('waiting', 'running')`, [id]);
}

/** Removes what was asked for more than an hour ago; an export that still runs stays. */
export async function forgetExports(owner: Database): Promise<void> {
  await owner.raw(
    `DELETE FROM fiche.export WHERE (at < now() - interval '1 hour' AND state <> 'running') OR at < now() - interval '1 day'`,
  );
}
