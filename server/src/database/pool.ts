import { say } from '@fiche/core/languages';
import createKnex, { type Knex } from 'knex';
import PostgresClient from 'knex/lib/dialects/postgres/index.js';
import pg from 'pg';
import { notePooled } from './pooler.ts';
import { NoPrimary } from './primary.ts';

// Values as core/fields knows them: numbers fit a double (at most 15 digits), dates and date-times are civil text.
pg.types.setTypeParser(20, Number);
pg.types.setTypeParser(1700, Number);
pg.types.setTypeParser(1082, String);
pg.types.setTypeParser(1083, (text) => text.slice(0, 5));
// bigint[]: the driver knows no name for it.
pg.types.setTypeParser(1016 as number, (text: string) =>
  text === '{}' ? [] : text.slice(1, -1).split(',').map(Number),
);
pg.types.setTypeParser(1114, (text) => `${text.slice(0, 10)}T${text.slice(11, 16)}`);
pg.types.setTypeParser(1184, (text) => new Date(text.replace(/([+-]\d\d)$/, '$1:00')).toISOString());

export type Database = Knex;
export type Transaction = Knex.Transaction;

/** A connection of its own, outside the pools. */
export interface DirectConnection {
  query(sql: string): Promise<unknown>;
  on(event: 'notification', then: (message: { payload?: string }) => void): unknown;
  on(event: 'error' | 'end', then: () => void): unknown;
  end(): Promise<void>;
}

/** How long, in milliseconds, one kind of use may run a statement, wait for a lock, idle in a transaction, wait for a connection. */
export interface Limits {
  readonly statement: number;
  readonly lock: number;
  readonly idle: number;
  readonly connection: number;
}
export const LIMITS = {
  app: { statement: 20_000, lock: 5_000, idle: 30_000, connection: 5_000 },
  owner: { statement: 120_000, lock: 10_000, idle: 60_000, connection: 10_000 },
  pages: { statement: 5_000, lock: 2_000, idle: 10_000, connection: 5_000 },
  work: { statement: 0, lock: 60_000, idle: 600_000, connection: 60_000 },
  exports: { statement: 120_000, lock: 5_000, idle: 60_000, connection: 30_000 },
  health: { statement: 2_000, lock: 1_000, idle: 2_000, connection: 2_000 },
} as const satisfies Record<string, Limits>;

/** What the application's role may take through a pooler, which keeps no limits of a connection. */
export const APP_LIMITS: Limits = LIMITS.app;

/** Where a pool's next connection goes. */
export interface Address {
  readonly url: string;
  /** Whether another process may answer each of its transactions. */
  readonly pooled?: boolean;
  /** Where the primary is one of several: called when this is not, or not any more. */
  readonly onRefused?: () => void;
}

/** What fails is told by whoever asked: the query builder's own log would hold statements. */
const SILENT = { warn: () => undefined, error: () => undefined, debug: () => undefined, deprecate: () => undefined };

interface PoolSettings {
  readonly most: number;
  readonly limits: Limits;
  readonly address: () => Promise<Address>;
}

const limitsOf = new WeakMap<Database, Limits>();

/** The limits of a pool's statements, which have to be said in each transaction where a pooler answers. */
export const statementLimit = (database: Database): number => limitsOf.get(database)?.statement ?? 0;

/** Connections of one kind of use, which are opened when they are needed. */
export function pool({ most, limits, address }: PoolSettings): Knex {
  const made = createKnex({
    // Where each connection goes is found out when it is opened: the primary may be another server by then.
    client: class extends PostgresClient {
      override async _acquireOnlyConnection(): Promise<DirectConnection> {
        const found = await address();
        // Read by the call that follows at once.
        this.connectionSettings = settingsFor(found, limits);
        const connection = await super._acquireOnlyConnection().catch((error: unknown) => {
          found.onRefused?.();
          throw error;
        });
        await checkConnection(connection, found);
        return connection;
      }
    },
    connection: {},
    pool: { min: 0, max: most },
    log: SILENT,
    acquireConnectionTimeout: limits.connection,
  });
  limitsOf.set(made, limits);
  return made;
}

const settingsFor = ({ url, pooled }: Address, limits: Limits): object => ({
  connectionString: url,
  application_name: 'fiche',
  connectionTimeoutMillis: limits.connection,
  // A pooler refuses what it would have to remember.
  ...(pooled
    ? {}
    : {
        statement_timeout: limits.statement,
        lock_timeout: limits.lock,
        idle_in_transaction_session_timeout: limits.idle,
        // A statement is not compiled before it runs: over the many partitions of the ledger that takes seconds.
        options: '-c jit=off',
      }),
});

/** Notes what a new connection leads to. Throws for a standby where the primary was meant. */
async function checkConnection(connection: DirectConnection, { pooled, onRefused }: Address): Promise<void> {
  if (pooled) notePooled(connection);
  if (!onRefused) return;
  const { rows } = (await connection.query('SELECT pg_is_in_recovery() AS standby')) as {
    rows: { standby: boolean }[];
  };
  if (!rows[0]?.standby) return;
  onRefused();
  await connection.end();
  throw new NoPrimary(say('This database server takes no writes any more. Nothing was lost; try again in a moment.'));
}
