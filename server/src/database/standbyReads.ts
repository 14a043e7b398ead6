import { setTimeout as wait } from 'node:timers/promises';
import type { Databases, Standby } from './connection.ts';
import type { Database } from './pool.ts';

/** A position in the primary’s write-ahead log, as PostgreSQL writes it: `0/3F2A1B8`. */
export type WalPosition = string;

/** So long, in ms, a reader waits for a standby to come as far as the primary was. */
const PATIENCE = 100;
const FIRST_WAIT = 2;
/** So long, in ms, a standby that did not answer is not asked again. */
const AWAY = 5_000;

/** Until when a standby counts as away. */
const away = new WeakMap<Standby, number>();

/** Whose turn it is among several standbys. */
let turn = 0;

/** The SQL of the position that a reader has to see; null where all is read from the primary. */
export const walPositionSql = ({ standbys }: Pick<Databases, 'standbys'>): string =>
  standbys.length === 0 ? 'NULL::text' : 'pg_current_wal_flush_lsn()::text';

/**
 * A standby that has everything up to a position, so that whoever has just saved, or was told that somebody else has, reads
 * what was saved. Undefined where none comes so far in a moment: then the primary is read.
 */
async function caughtUpStandby(
  { standbys }: Pick<Databases, 'standbys'>,
  position: WalPosition | null,
  patience = PATIENCE,
): Promise<Standby | undefined> {
  const there = standbys.filter((one) => (away.get(one) ?? 0) < Date.now());
  if (position === null || there.length === 0) return undefined;
  turn = (turn + 1) % there.length;
  const standby = there[turn] as Standby;
  const until = Date.now() + patience;
  try {
    for (let pause = FIRST_WAIT; ; pause *= 2) {
      if (await hasReached(standby.app, position)) return standby;
      if (Date.now() + pause > until) return undefined;
      await wait(pause);
    }
  } catch {
    away.set(standby, Date.now() + AWAY);
    return undefined;
  }
}

/** Whether a server has everything up to a position; one that takes writes itself has. */
async function hasReached(database: Database, position: WalPosition): Promise<boolean> {
  const { rows } = await database.raw<{ rows: { there: boolean }[] }>(
    'SELECT NOT pg_is_in_recovery() OR pg_last_wal_replay_lsn() >= ?::pg_lsn AS there',
    [position],
  );
  return rows[0]?.there === true;
}

/** Reads by a standby that has all that the reader has to see, else by the primary; by the primary, too, where the standby fails meanwhile. */
export async function readFromStandby<T>(
  databases: Databases,
  position: WalPosition | null,
  work: (database: Database) => Promise<T>,
): Promise<T> {
  const standby = await caughtUpStandby(databases, position);
  if (!standby) return work(databases.app);
  try {
    return await work(standby.app);
  } catch (error) {
    if (!isOfStandby(error as Failure)) throw error;
    return work(databases.app);
  }
}

/** Where an export is read, which takes one snapshot for its whole length. */
export const exportPoolAt = async (databases: Databases, position: WalPosition | null): Promise<Database> =>
  (await caughtUpStandby(databases, position))?.exports ?? databases.exports;

/** So long, in ms, work in the background waits for a standby. */
const PATIENCE_OF_WORK = 10_000;

/** Where the owner reads what takes long: a standby that has everything of this moment, else the primary. */
export async function ownerReadPool(databases: Databases): Promise<Database> {
  if (databases.standbys.length === 0) return databases.work.owner;
  const { rows } = await databases.work.owner.raw<{ rows: { at: WalPosition }[] }>(
    `SELECT ${walPositionSql(databases)} AS at`,
  );
  return (await caughtUpStandby(databases, rows[0]?.at ?? null, PATIENCE_OF_WORK))?.owner ?? databases.work.owner;
}

/** An error of the driver, of PostgreSQL or of the pool. */
interface Failure {
  /** A SQLSTATE of five characters, or the name of a socket’s error, such as ECONNRESET. */
  readonly code?: string;
  readonly name?: string;
  readonly message?: string;
}

/**
 * Whether a failure is the standby’s own: a question that stood in the way of what it was sent (40001), a table that is not
 * sent to standbys (0A000), a server that goes or has gone, or none of its connections free.
 */
const isOfStandby = ({ code = '', name, message = '' }: Failure): boolean =>
  ['40001', '0A000'].includes(code) ||
  /^(57P|08|E[A-Z]{4})/.test(code) ||
  name === 'KnexTimeoutError' ||
  message.startsWith('Connection terminated');
