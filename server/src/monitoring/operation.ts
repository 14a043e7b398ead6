import { statfs } from 'node:fs/promises';
import type { OperationAnswer } from '@fiche/core/api';
import { relation } from '@fiche/core/queries';
import type { TableId } from '@fiche/core/tables';
import type { Database, Databases } from '../database/index.ts';
import { officeFigures } from './officeFigures.ts';

const MOST_TABLES = 12;
const MOST_MONTHS = 12;
const MOST_BACKUPS = 8;
const MOST_FAILURES = 8;

interface Asked {
  readonly cabinet: string;
  /** The tables of the cabinet that the caller sees. */
  readonly tables: readonly TableId[];
  /** The folder of the database where it is on this machine. */
  readonly dataFolder: string | null;
}

/** About how many rows a table `c` has: as it was last analysed, else as they were counted when written; null where neither is known. */
const ABOUT = 'coalesce(nullif(c.reltuples, -1), nullif(pg_stat_get_live_tuples(c.oid), 0))::float8';

/** How the installation does. Counts of rows are PostgreSQL’s estimates: counting a large ledger would take as long as reading it. */
export async function operationOf(databases: Databases, asked: Asked): Promise<OperationAnswer> {
  const { app } = databases;
  const [figures, tables, months, backups, failures, standbys, freeBytes] = await Promise.all([
    officeFigures(app),
    largestTables(app, asked.tables),
    ledgerMonths(app),
    lastBackups(app),
    lastFailures(app, asked.cabinet),
    Promise.all(databases.standbys.map((one) => stateOfStandby(one.app))),
    freeSpace(asked.dataFolder),
  ]);
  return {
    database: { bytes: figures.bytes, version: figures.version, freeBytes },
    tables,
    months,
    seal: { at: figures.sealed_at, count: figures.seals, unsealed: figures.unsealed },
    backups,
    tasks: { open: figures.tasks_open, failed: figures.tasks_failed },
    failures,
    messages: { waiting: figures.messages_waiting, failed: figures.messages_failed },
    standbys,
  };
}

async function largestTables(app: Database, tables: readonly TableId[]): Promise<OperationAnswer['tables']> {
  const { rows } = await app.raw<{ rows: OperationAnswer['tables'] }>(
    `SELECT c.relname AS "table", ${ABOUT} AS records, pg_total_relation_size(c.oid)::float8 AS bytes
     FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace WHERE n.nspname = 'data' AND c.relname = ANY(?::text[])
     ORDER BY bytes DESC, 1 LIMIT ${MOST_TABLES}`,
    [tables as unknown as string],
  );
  return Promise.all(
    rows.map(async (one) =>
      one.records === null && one.bytes < COUNTED_BELOW ? { ...one, records: await countRows(app, one.table) } : one,
    ),
  );
}

/** PostgreSQL does not estimate a table into which little was written; below this size, in bytes, it is counted. */
const COUNTED_BELOW = 2_000_000;

async function countRows(app: Database, table: TableId): Promise<number> {
  const { rows } = await app.raw<{ rows: [{ n: number }] }>(`SELECT count(*) AS n FROM ${relation(table)}`);
  return rows[0].n;
}

/** The partitions of the ledger that hold lines; their names end with the month. */
async function ledgerMonths(app: Database): Promise<OperationAnswer['months']> {
  const { rows } = await app.raw<{ rows: OperationAnswer['months'] }>(
    `SELECT translate(right(c.relname, 7), '_', '-') AS month, ${ABOUT} AS lines, pg_total_relation_size(c.oid)::float8 AS bytes
     FROM pg_inherits i JOIN pg_class c ON c.oid = i.inhrelid
     WHERE i.inhparent = 'ledger.line'::regclass AND c.relname ~ '[0-9]{4}_[0-9]{2}$' AND pg_relation_size(c.oid) > 0
     ORDER BY month DESC LIMIT ${MOST_MONTHS}`,
  );
  return rows;
}

async function lastBackups(app: Database): Promise<OperationAnswer['backups']> {
  const rows = await app('fiche.backup').orderBy('id', 'desc').limit(MOST_BACKUPS);
  return rows.map((one) => ({
    begunAt: one.begun_at,
    endedAt: one.ended_at,
    kind: one.kind,
    state: one.state,
    place: one.place,
    bytes: one.bytes,
    encrypted: one.encrypted,
    verifiedAt: one.verified_at,
    message: one.message,
  }));
}

const lastFailures = async (app: Database, cabinet: string): Promise<OperationAnswer['failures']> =>
  app('fiche.task')
    .where({ cabinet, state: 'failed' })
    .whereRaw("at > now() - interval '7 days'")
    .orderBy('id', 'desc')
    .limit(MOST_FAILURES)
    .select('at', 'label', app.raw("coalesce(message, '') AS message"));

/** A standby that has read all that came is not behind, however long nothing has come. */
async function stateOfStandby(standby: Database): Promise<OperationAnswer['standbys'][number]> {
  try {
    const { rows } = await standby.raw<{ rows: { behind: number }[] }>(
      `SELECT CASE WHEN NOT pg_is_in_recovery() OR pg_last_wal_receive_lsn() = pg_last_wal_replay_lsn() THEN 0
         ELSE extract(epoch FROM now() - pg_last_xact_replay_timestamp()) END::float8 AS behind`,
    );
    return { answers: true, behindSeconds: rows[0]?.behind ?? null };
  } catch {
    return { answers: false, behindSeconds: null };
  }
}

const freeSpace = async (folder: string | null): Promise<number | null> => {
  if (folder === null) return null;
  const { bavail, bsize } = await statfs(folder).catch(() => ({ bavail: null, bsize: 0 }));
  return bavail === null ? null : bavail * bsize;
};
