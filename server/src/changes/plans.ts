import type { ChangeCounts, ChangePlan } from '@fiche/core/changes';
import type { Problem } from '@fiche/core/fields';
import type { RecordId, TableId } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';
import { notFound } from '../http/index.ts';

/** What a plan does: what a person chose, or putting back a change that was written. */
export type StoredPlan = ChangePlan | { readonly putBack: number; readonly reasons: ChangePlan['reasons'] };

export const isPutBack = (plan: StoredPlan): plan is Extract<StoredPlan, { putBack: number }> => 'putBack' in plan;

/** A record as it is, and as it would be: the columns that change, as the database keeps them. */
export interface ChangedRecord {
  readonly record: RecordId;
  readonly before: Readonly<Record<string, unknown>>;
  readonly after: Readonly<Record<string, unknown>>;
}

export interface RefusedRecord {
  readonly record: RecordId;
  readonly problems: readonly Problem[];
}

/** What a check found, to be looked at: the first records of each kind, and how often each thing was said. */
export interface ChangePreview {
  readonly changed: readonly ChangedRecord[];
  readonly refused: readonly RefusedRecord[];
  /** What stands against records, the most frequent first. */
  readonly reasons: readonly { readonly message: string; readonly count: number }[];
  /** Rules that ask, and that no reason was given to. */
  readonly asked: readonly { readonly rule: string; readonly message: string; readonly count: number }[];
}

export interface PlanRow {
  readonly id: number;
  readonly cabinet: string;
  readonly table: TableId;
  readonly account: string;
  readonly plan: StoredPlan;
  readonly state: 'planned' | 'checked' | 'written';
  readonly counts: ChangeCounts | null;
  readonly preview: ChangePreview | null;
  readonly tableRevision: number | null;
  readonly columns: readonly string[] | null;
}

/** The table that the checked records of a change wait in. */
export const stagingOfChange = (id: number): string => `staging."change_${id}"`;

const COLUMNS =
  'id, cabinet, table_id AS "table", account, plan, state, counts, preview, table_revision AS "tableRevision", columns';

export async function addPlan(
  owner: Database,
  { cabinet, table, account, plan }: Pick<PlanRow, 'cabinet' | 'table' | 'account' | 'plan'>,
): Promise<number> {
  const { rows } = await owner.raw<{ rows: { id: number }[] }>(
    'INSERT INTO fiche.change_plan (cabinet, table_id, account, plan) VALUES (?, ?, ?, ?) RETURNING id',
    [cabinet, table, account, JSON.stringify(plan)],
  );
  return Number(rows[0]?.id);
}

/** A plan of somebody for a table. Throws 404 for one that is not there, or not theirs. */
export async function findPlan(
  database: Database | Transaction,
  table: TableId,
  account: string,
  id: number,
): Promise<PlanRow> {
  const { rows } = Number.isSafeInteger(id)
    ? await database.raw<{ rows: PlanRow[] }>(
        `SELECT ${COLUMNS} FROM fiche.change_plan WHERE id = ? AND table_id = ? AND account = ?`,
        [id, table, account],
      )
    : { rows: [] };
  const [row] = rows;
  if (!row) throw notFound('This change');
  return row;
}

/** A change that was written, with what is needed to put it back. */
export interface WrittenChange {
  readonly id: number;
  readonly what: StoredPlan;
  readonly counts: ChangeCounts;
  readonly transaction: number;
}

export async function findWritten(
  database: Database | Transaction,
  table: TableId,
  id: number,
): Promise<WrittenChange | undefined> {
  const { rows } = Number.isSafeInteger(id)
    ? await database.raw<{ rows: WrittenChange[] }>(
        'SELECT id, what, counts, transaction FROM fiche.change WHERE id = ? AND table_id = ?',
        [id, table],
      )
    : { rows: [] };
  return rows[0];
}

/** Forgets plans of a week ago, and the records that wait for them. */
export async function forgetPlans(owner: Database): Promise<void> {
  const { rows } = await owner.raw<{ rows: { id: number }[] }>(
    `DELETE FROM fiche.change_plan WHERE at < now() - interval '7 days' RETURNING id`,
  );
  for (const { id } of rows) await owner.raw(`DROP TABLE IF EXISTS ${stagingOfChange(id)}`);
}
