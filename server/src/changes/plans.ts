import type { ChangeCounts, ChangePlan } from '@fiche/core/changes';
import type { Problem } from '@fiche/core/fields';
import { say } from '@fiche/core/languages';
import type { RecordId, TableId } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';
import { notFound } from '../http/index.ts';

/** One part of a large save, such as an import: what it added to a table, or what it changed there. */
export interface SavedPart {
  readonly transaction: number;
  /** Its moment in milliseconds, where transactions hold saves of several. */
  readonly at?: string | undefined;
  readonly part: 'added' | 'changed';
}

/** What a plan does: what a person chose, or putting back a change that was written, by its number, or a part of another save. */
export type StoredPlan =
  | ChangePlan
  | {
      readonly putBack: number | null;
      readonly of?: SavedPart | undefined;
      readonly reasons: ChangePlan['reasons'];
    };

export const isPutBack = (plan: StoredPlan): plan is Extract<StoredPlan, { putBack: number | null }> =>
  'putBack' in plan;

type Done = 'set' | 'archive' | 'restore';
const undone = (done: Done): Done => (done === 'archive' ? 'restore' : done === 'restore' ? 'archive' : 'set');

/** What a written plan of a table did with its records. */
async function kindOf(database: Database | Transaction, table: TableId, written: StoredPlan): Promise<Done> {
  if (!isPutBack(written)) {
    const { kind } = written.what;
    return kind === 'archive' || kind === 'restore' ? kind : 'set';
  }
  // What a save added was archived.
  if (written.of) return written.of.part === 'added' ? 'archive' : 'set';
  const before = written.putBack === null ? undefined : await findWritten(database, table, written.putBack);
  return before ? kindOfPutBack(database, table, before.what) : 'set';
}

/** What putting a written plan of a table back does with its records; that of a put back does what was done at first. */
export const kindOfPutBack = async (
  database: Database | Transaction,
  table: TableId,
  written: StoredPlan,
): Promise<Done> => undone(await kindOf(database, table, written));

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
  if (!row) throw notFound(say('This change'));
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
