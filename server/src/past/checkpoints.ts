import { type CheckpointCut, checkpointCuts, type LineSpan } from '@fiche/core/history';
import { relation } from '@fiche/core/queries';
import type { TableId } from '@fiche/core/tables';
import { ask, type Database, type Transaction } from '../database/index.ts';
import { lockPast } from '../records/index.ts';
import { MOST_READ_SINGLY, STATE } from './source.ts';

/** Records of a table as they stood at a moment, added up once and kept. */
export interface Checkpoint {
  readonly id: number;
  /** The moment, as the database writes it, and as SQL. */
  readonly at: string;
  readonly moment: string;
  readonly records: number;
}

/** How often a table is looked at, and how old lines are that a checkpoint may hold: no save takes so long. */
const DAY = "interval '1 day'";

const momentOf = (text: string): string => `'${text}'::timestamptz`;
/** A line that was given an older moment afterwards, as seeding does, makes a checkpoint `c` no longer what its lines say. */
const OVERTAKEN =
  "EXISTS (SELECT FROM ledger.line l WHERE l.id > c.line AND l.at <= c.at AND l.place = 'data.' || c.table_id)";

/** The checkpoints of a table that hold all lines of their time, oldest first: all, or those up to a moment, given as SQL. */
export async function checkpointsOf(
  database: Database | Transaction,
  table: TableId,
  until = "'infinity'",
): Promise<Checkpoint[]> {
  const rows = await ask<Omit<Checkpoint, 'moment'>>(
    database,
    `SELECT c.id, c.at::text AS at, c.records FROM ledger.checkpoint c WHERE c.table_id = ? AND c.at <= ${until} AND NOT ${OVERTAKEN} ORDER BY c.at`,
    [table],
  );
  return rows.map(({ id, at, records }) => ({ id: Number(id), at, moment: momentOf(at), records: Number(records) }));
}

/**
 * What stands behind FROM to read what the lines of a table up to a moment add up to: `record`, `state`, `version`, `changed_at`
 * and `changed_by`. Beginning with a checkpoint only the lines after it are read.
 */
export function statesSql(table: TableId, moment: string, from: Checkpoint | undefined): string {
  const lines = `(SELECT l.record::bigint AS record, ${STATE} AS state, max(l.version) AS version, max(l.at) AS changed_at,
      (array_agg(l.account ORDER BY l.id DESC))[1] AS changed_by
    FROM ledger.line l WHERE l.place = 'data.${table}' AND l.at <= ${moment}${from ? ` AND l.at > ${from.moment}` : ''} GROUP BY l.record)`;
  if (!from) return lines;
  // OFFSET keeps the state from being put together again for every column that is read out of it.
  return `(SELECT record, coalesce(k.state || d.state, k.state, d.state) AS state, coalesce(d.version, k.version) AS version,
      coalesce(d.changed_at, k.changed_at) AS changed_at, coalesce(d.changed_by, k.changed_by) AS changed_by
    FROM (SELECT * FROM ledger.checkpoint_record WHERE checkpoint = ${from.id}) k FULL JOIN ${lines} d USING (record) OFFSET 0)`;
}

/**
 * Makes the checkpoints that large tables lack, out of lines that are a day old: of each table once a day, by one server, unless `again`.
 * As the owner.
 */
export async function makeCheckpoints(owner: Database, again = false): Promise<void> {
  const due = await ask<{ id: TableId }>(
    owner,
    `INSERT INTO fiche.checkpoint_look AS k (table_id)
     SELECT t.id FROM fiche."table" t JOIN pg_class c ON c.oid = to_regclass(format('data.%I', t.id)) WHERE c.reltuples > ${MOST_READ_SINGLY}
     ON CONFLICT (table_id) DO UPDATE SET at = now() WHERE k.at < now() - ${DAY} OR ?::boolean RETURNING k.table_id AS id`,
    [again],
  );
  for (const { id } of due) await makeThoseOf(owner, id);
}

/** A transaction each: an erasure waits for one at most. */
async function makeThoseOf(owner: Database, table: TableId): Promise<void> {
  const apart = <T>(work: (write: Transaction) => Promise<T>): Promise<T> =>
    owner.transaction(async (write) => {
      await write.raw("SET LOCAL statement_timeout = 0; SET LOCAL work_mem = '64MB'");
      await lockPast(write, table, 'shared');
      return work(write);
    });
  let from = await apart(async (write) => {
    await write.raw(
      `WITH gone AS (DELETE FROM ledger.checkpoint c WHERE c.table_id = ? AND ${OVERTAKEN} RETURNING c.id)
       DELETE FROM ledger.checkpoint_record WHERE checkpoint IN (SELECT id FROM gone)`,
      [table],
    );
    return (await checkpointsOf(write, table)).at(-1);
  });
  const spans = await apart((write) =>
    ask<LineSpan>(
      write,
      `SELECT max(at)::text AS at, min(id) AS first, max(id) AS last, count(*) FILTER (WHERE kind = 'add') AS added,
         count(*) FILTER (WHERE kind = 'erase') AS erased, count(*) FILTER (WHERE kind NOT IN ('add', 'erase')) AS changes
       FROM ledger.line WHERE place = ? AND at < now() - ${DAY}${from ? ` AND at > ${from.moment}` : ''}
       GROUP BY date_trunc('minute', at) ORDER BY max(at)`,
      [`data.${table}`],
    ),
  );
  for (const cut of checkpointCuts(spans, from?.records ?? 0, MOST_READ_SINGLY)) {
    const before = from;
    from = await apart((write) => makeOne(write, table, cut, before));
  }
}

async function makeOne(
  write: Transaction,
  table: TableId,
  cut: CheckpointCut,
  from: Checkpoint | undefined,
): Promise<Checkpoint> {
  const moment = momentOf(cut.at);
  const [made] = await ask<{ id: number }>(
    write,
    `INSERT INTO ledger.checkpoint (table_id, at, line, records, changes) VALUES (?, ${moment}, ?, 0, ?) RETURNING id`,
    [table, cut.line, cut.changes],
  );
  const id = Number(made?.id);
  // What was erased since is in no checkpoint.
  const { rowCount: records } = await write.raw<{ rowCount: number }>(
    `INSERT INTO ledger.checkpoint_record (checkpoint, record, version, changed_at, changed_by, state)
     SELECT ${id}, p.record, p.version, p.changed_at, p.changed_by, p.state
     FROM ${statesSql(table, moment, from)} p WHERE p.record IN (SELECT s.id FROM ${relation(table)} s)`,
  );
  await write('ledger.checkpoint').where({ id }).update({ records });
  return { id, at: cut.at, moment, records };
}
