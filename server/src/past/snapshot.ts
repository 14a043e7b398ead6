import { createHash } from 'node:crypto';
import { quoted, relation } from '@fiche/core/queries';
import type { TableDefinition } from '@fiche/core/tables';
import type { Database, Transaction } from '../database/index.ts';
import { lockPast } from '../records/index.ts';
import { checkpointsOf, statesSql } from './checkpoints.ts';
import { holdsThose, MOST_READ_SINGLY, toldColumns, unchangedColumns } from './source.ts';

const KEPT = '1 hour';
/** Moments that are kept ready at once; of more, the one that was looked at longest ago goes. */
const MOST_KEPT = 12;

/** Whether of a table as it was defined then more records are added up from lines than is done one by one. */
export async function isLarge(
  app: Database,
  table: TableDefinition,
  then: TableDefinition,
  moment: string,
): Promise<boolean> {
  const added = holdsThose(table, then) ? `s.changed_at > ${moment} AND` : '';
  const { rows } = await app.raw<{ rows: { n: number }[] }>(
    `SELECT count(*) AS n FROM (SELECT FROM ${relation(table.id)} s WHERE ${added} s.created_at <= ${moment} LIMIT ${MOST_READ_SINGLY + 1}) few`,
  );
  return Number(rows[0]?.n) > MOST_READ_SINGLY;
}

/** The name of the table that holds the records of a table as they stood at a moment. */
function nameOf(table: TableDefinition, then: TableDefinition, moment: string): string {
  const key = createHash('sha256')
    .update(JSON.stringify([table.id, table.revision, moment, then]))
    .digest('hex');
  return `past_${key.slice(0, 40)}`;
}

/** Whether `snapshotOf` would find its table made. As the owner. */
export async function isKept(
  owner: Database,
  table: TableDefinition,
  then: TableDefinition,
  moment: string,
): Promise<boolean> {
  const name = nameOf(table, then, moment);
  return (await owner('fiche.past_snapshot').where({ name }).first('name')) !== undefined;
}

/**
 * The records of a table as they stood at a moment, in a table of their own: made from the ledger unless it is there already.
 * Gives its name. As the owner.
 */
export async function snapshotOf(
  owner: Database,
  table: TableDefinition,
  then: TableDefinition,
  moment: string,
): Promise<string> {
  const name = nameOf(table, then, moment);
  const place = `staging.${quoted(name)}`;
  await owner.transaction(async (write) => {
    // Who asks for the same moment meanwhile waits, and finds it made.
    await write.raw('SELECT pg_advisory_xact_lock(hashtextextended(?, 0))', [name]);
    const known = await write('fiche.past_snapshot').where({ name }).update({ used_at: write.fn.now() });
    if (known > 0 && (await isFilled(write, place))) return;
    await write.raw(
      "SET LOCAL statement_timeout = 0; SET LOCAL work_mem = '64MB'; SET LOCAL default_statistics_target = 10",
    );
    await lockPast(write, table.id, 'shared');
    const holds = holdsThose(table, then);
    await write.raw(`DROP TABLE IF EXISTS ${place}`);
    const from = (await checkpointsOf(write, table.id, moment)).at(-1);
    await write.raw(
      `CREATE UNLOGGED TABLE ${place} AS ${
        holds
          ? `SELECT ${unchangedColumns(then)} FROM ${relation(table.id)} s WHERE s.changed_at <= ${moment} UNION ALL `
          : ''
      }SELECT ${toldColumns(then)} FROM ${relation(table.id)} s JOIN ${statesSql(table.id, moment, from)} p ON p.record = s.id
       WHERE s.created_at <= ${moment}${holds ? ` AND s.changed_at > ${moment}` : ''}`,
    );
    await write.raw(`ALTER TABLE ${place} ADD PRIMARY KEY (id)`);
    await write.raw(`ANALYZE ${place}`);
    const { rows } = await write.raw<{ rows: { app: string }[] }>(
      `SELECT grantee AS app FROM information_schema.role_table_grants WHERE table_schema = 'ledger' AND table_name = 'line' AND privilege_type = 'SELECT' AND grantee <> current_user`,
    );
    for (const { app } of rows) await write.raw(`GRANT SELECT ON ${place} TO ${quoted(app)}`);
    await write('fiche.past_snapshot').insert({ name, table_id: table.id }).onConflict('name').merge();
    const { rows: old } = await write.raw<{ rows: { name: string }[] }>(
      `DELETE FROM fiche.past_snapshot WHERE name IN (SELECT name FROM fiche.past_snapshot ORDER BY used_at DESC OFFSET ${MOST_KEPT}) RETURNING name`,
    );
    for (const one of old) await write.raw(`DROP TABLE IF EXISTS staging.${quoted(one.name)}`);
  });
  return place;
}

/** Whether a table of a past moment still holds its records: it is not logged, for speed, so that a crash of the database empties it. */
async function isFilled(write: Transaction, place: string): Promise<boolean> {
  const { rows: there } = await write.raw<{ rows: { name: string | null }[] }>('SELECT to_regclass(?) AS name', [
    place,
  ]);
  if (!there[0]?.name) return false;
  const { rows } = await write.raw<{ rows: unknown[] }>(`SELECT FROM ${place} LIMIT 1`);
  return rows.length > 0;
}

/** Drops the tables of past moments that nobody has looked at for an hour. As the owner. */
export async function forgetSnapshots(owner: Database): Promise<void> {
  const { rows } = await owner.raw<{ rows: { name: string }[] }>(
    `DELETE FROM fiche.past_snapshot WHERE used_at < now() - interval '${KEPT}' RETURNING name`,
  );
  for (const { name } of rows) await owner.raw(`DROP TABLE IF EXISTS staging.${quoted(name)}`);
}

/** What stands behind FROM to read a snapshot, of the records that are there today and that `limit` lets see. */
export const snapshotSource = (table: TableDefinition, place: string, limit: string | null): string =>
  `(SELECT p.* FROM ${place} p WHERE p.id IN (SELECT s.id FROM ${relation(table.id)} s${limit === null ? '' : ` WHERE ${limit}`}))`;
