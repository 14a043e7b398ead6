import { createHmac, randomBytes } from 'node:crypto';
import createKnex, { type Knex } from 'knex';
import pg from 'pg';

/** The application's database role: rows only. The owner is whoever DATABASE_URL signs in as. */
export const APP_ROLE = 'fiche_app';

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

/** Both roles' connections, of one kind of use. */
export interface RolePools {
  /** Rows only. */
  readonly app: Database;
  /** Definitions and the tables they make; migrations and seeding. */
  readonly owner: Database;
}

/** The connections to one database: those of requests, and pools of their own for what must not wait for requests. */
export interface Databases extends RolePools {
  /** Work in the background: long statements, and long waits for a lock. */
  readonly work: RolePools;
  /** Questions of public pages, which must not take the connections of those who work here. */
  readonly pages: Database;
  /** Exports, each of which keeps one connection for as long as it is downloaded: all of it as one moment sees it. */
  readonly exports: Database;
  /** One connection that answers whether the database does. */
  readonly health: Database;
}

/** How long, in milliseconds, one kind of use may run a statement, wait for a lock, idle in a transaction, wait for a connection. */
interface Limits {
  readonly statement: number;
  readonly lock: number;
  readonly idle: number;
  readonly connection: number;
}
const LIMITS = {
  app: { statement: 20_000, lock: 5_000, idle: 30_000, connection: 5_000 },
  owner: { statement: 120_000, lock: 10_000, idle: 60_000, connection: 10_000 },
  pages: { statement: 5_000, lock: 2_000, idle: 10_000, connection: 5_000 },
  work: { statement: 0, lock: 60_000, idle: 600_000, connection: 60_000 },
  exports: { statement: 120_000, lock: 5_000, idle: 60_000, connection: 30_000 },
  health: { statement: 2_000, lock: 1_000, idle: 2_000, connection: 2_000 },
} as const satisfies Record<string, Limits>;

/**
 * Connects both roles. `url` is the owner's; `sizes` are the most connections of requests. The application's password is
 * derived from the owner's, so that several servers need to be told only one; DATABASE_APP_URL overrides it. An owner
 * without a password keeps a generated one where only the owner can read it.
 */
export function connect(url: string, sizes = { app: 10, owner: 4 }): Databases {
  const owner = pool(url, sizes.owner, LIMITS.owner);
  const app = (most: number, limits: Limits): Database => {
    const given = process.env.DATABASE_APP_URL ?? derivedAppUrl(url);
    return pool(given ?? (async () => withPassword(url, await keptSecret(owner))), most, limits);
  };
  return {
    app: app(sizes.app, LIMITS.app),
    owner,
    work: { app: app(4, LIMITS.work), owner: pool(url, 4, LIMITS.work) },
    pages: app(3, LIMITS.pages),
    exports: app(3, LIMITS.exports),
    health: app(1, LIMITS.health),
  };
}

/** What fails is told by whoever asked: the query builder's own log would hold statements. */
const SILENT = { warn: () => undefined, error: () => undefined, debug: () => undefined, deprecate: () => undefined };

function pool(url: string | (() => Promise<string>), max: number, limits: Limits): Knex {
  const config = (connectionString: string): Knex.PgConnectionConfig & { lock_timeout: number } => ({
    connectionString,
    application_name: 'fiche',
    statement_timeout: limits.statement,
    lock_timeout: limits.lock,
    idle_in_transaction_session_timeout: limits.idle,
    connectionTimeoutMillis: limits.connection,
  });
  return createKnex({
    client: 'pg',
    connection: typeof url === 'string' ? config(url) : async () => config(await url()),
    pool: { min: 0, max },
    log: SILENT,
    acquireConnectionTimeout: limits.connection,
  });
}

/** The password of the application's role, known to whoever knows the owner's; undefined where the owner has none. */
export const derivedAppPassword = (url: string): string | undefined => {
  const { password } = new URL(url);
  return password === '' ? undefined : createHmac('sha256', password).update(APP_ROLE).digest('hex');
};

function derivedAppUrl(url: string): string | undefined {
  const password = derivedAppPassword(url);
  return password === undefined ? undefined : withPassword(url, password);
}

function withPassword(url: string, password: string): string {
  const app = new URL(url);
  app.username = APP_ROLE;
  app.password = password;
  return app.href;
}

/** A secret of this database, the application role’s password where none is named: made on first use in a table that only the owner can read. */
export async function keptSecret(
  owner: Database,
  name = 'app',
  make = (): string => randomBytes(24).toString('hex'),
): Promise<string> {
  await owner.raw('CREATE TABLE IF NOT EXISTS public.fiche_secret (name text PRIMARY KEY, value text NOT NULL)');
  await owner.raw('REVOKE ALL ON public.fiche_secret FROM PUBLIC');
  const read = async (): Promise<string | undefined> =>
    (await owner.raw<{ rows: { value: string }[] }>('SELECT value FROM public.fiche_secret WHERE name = ?', [name]))
      .rows[0]?.value;
  const known = await read();
  if (known !== undefined) return known;
  await owner.raw('INSERT INTO public.fiche_secret (name, value) VALUES (?, ?) ON CONFLICT DO NOTHING', [name, make()]);
  return (await read()) ?? '';
}

export async function disconnect({ app, owner, work, pages, exports, health }: Databases): Promise<void> {
  await Promise.all([app, owner, work.app, work.owner, pages, exports, health].map((one) => one.destroy()));
}
