import { createHmac, randomBytes } from 'node:crypto';
import pg from 'pg';
import { addressesOf, namesRole, passwordIn, withRole } from './addresses.ts';
import { type Address, type Database, type DirectConnection, LIMITS, type Limits, pool } from './pool.ts';
import { isPooled } from './pooler.ts';
import { Primary } from './primary.ts';

/** The application's database role: rows only. The owner is whoever DATABASE_URL signs in as. */
export const APP_ROLE = 'fiche_app';

/** Both roles' connections, of one kind of use. */
export interface RolePools {
  /** Rows only. */
  readonly app: Database;
  /** Definitions and the tables they make; migrations and seeding. */
  readonly owner: Database;
}

/** A server that follows the primary, from which is read what may be read a moment later. */
export interface Standby extends RolePools {
  readonly exports: Database;
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
  /** The servers of DATABASE_READ_URL; none where it is not set. */
  readonly standbys: readonly Standby[];
  /** Opens a connection of the application's role to the primary, past any pooler. */
  connectDirectly(): Promise<DirectConnection>;
  /** The address of the primary for the application’s role, past any pooler, with its password: for a thread’s own connections. */
  addressForThread(): Promise<string>;
}

/** The connections of a thread, for work in the background, to what `addressForThread` gave. */
export const connectThread = (url: string): Database =>
  pool({ most: 4, limits: LIMITS.work, address: async () => ({ url }) });

/**
 * Connects both roles. `url` is the owner's, with several hosts where a standby may take over; `sizes` are the most connections
 * of requests. The application's password is derived from the owner's, so that several servers need to be told only one. An
 * owner without a password keeps a generated one where only the owner can read it. DATABASE_APP_URL is where requests go
 * instead, through a pooler, say, with or without a role of its own; DATABASE_READ_URL names standbys.
 */
export function connect(url: string, sizes = { app: 10, owner: 4 }): Databases {
  const addresses = addressesOf(url);
  const primary = new Primary(addresses);
  const owner = pool({ most: sizes.owner, limits: LIMITS.owner, address: onPrimary(primary, addresses) });
  const roleOf = async (): Promise<[string, string]> => appRole(url, () => keptSecret(owner));
  const asApp = async (address: string): Promise<string> => withRole(address, ...(await roleOf()));
  const app = (most: number, limits: Limits): Database =>
    pool({ most, limits, address: onPrimary(primary, addresses, asApp) });
  const through = process.env.DATABASE_APP_URL;
  const requests = (most: number, limits: Limits): Database =>
    through === undefined ? app(most, limits) : pool({ most, limits, address: throughPooler(through, asApp) });
  const direct = async (): Promise<string> => (await onPrimary(primary, addresses, asApp)()).url;
  return {
    app: requests(sizes.app, LIMITS.app),
    owner,
    work: {
      app: app(4, LIMITS.work),
      owner: pool({ most: 4, limits: LIMITS.work, address: onPrimary(primary, addresses) }),
    },
    pages: requests(3, LIMITS.pages),
    exports: app(3, LIMITS.exports),
    health: requests(1, LIMITS.health),
    standbys: readAddresses().map((address) => {
      const reads = (most: number, limits: Limits, as: 'app' | 'owner'): Database =>
        pool({
          most,
          limits,
          address: async () => ({ url: as === 'app' ? await asApp(address) : asOwner(address, url) }),
        });
      return {
        app: reads(sizes.app, LIMITS.app, 'app'),
        exports: reads(3, LIMITS.exports, 'app'),
        owner: reads(1, LIMITS.work, 'owner'),
      };
    }),
    connectDirectly: async () => {
      const client = new pg.Client({
        connectionString: await direct(),
        application_name: 'fiche listens',
        connectionTimeoutMillis: LIMITS.app.connection,
        keepAlive: true,
      });
      client.on('error', () => undefined);
      await client.connect();
      return client;
    },
    addressForThread: direct,
  };
}

const readAddresses = (): readonly string[] =>
  process.env.DATABASE_READ_URL ? addressesOf(process.env.DATABASE_READ_URL) : [];

const onPrimary =
  (
    primary: Primary,
    addresses: readonly [string, ...string[]],
    as: (address: string) => string | Promise<string> = (address) => address,
  ) =>
  async (): Promise<Address> => {
    const url = await as(addresses[await primary.index()] ?? addresses[0]);
    return addresses.length === 1 ? { url } : { url, onRefused: () => primary.forget() };
  };

function throughPooler(given: string, asApp: (address: string) => Promise<string>): () => Promise<Address> {
  let found: Promise<boolean> | undefined;
  return async () => {
    const url = namesRole(given) ? given : await asApp(given);
    found ??= isPooled(url);
    try {
      return { url, pooled: await found };
    } catch (error) {
      found = undefined;
      throw error;
    }
  };
}

/** The application's role and its password: as DATABASE_APP_URL says, else derived. */
async function appRole(url: string, kept: () => Promise<string>): Promise<[string, string]> {
  const given = process.env.DATABASE_APP_URL;
  if (given !== undefined && namesRole(given)) {
    const { username, password } = new URL(given);
    return [decodeURIComponent(username), decodeURIComponent(password)];
  }
  return [APP_ROLE, derivedAppPassword(url) ?? (await kept())];
}

function asOwner(address: string, url: string): string {
  const { username, password } = new URL(addressesOf(url)[0]);
  return withRole(address, decodeURIComponent(username), decodeURIComponent(password));
}

/** The password of the application's role, known to whoever knows the owner's; undefined where the owner has none. */
export const derivedAppPassword = (url: string): string | undefined => {
  const password = passwordIn(url);
  return password === '' ? undefined : createHmac('sha256', password).update(APP_ROLE).digest('hex');
};

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

/** All pools, those of standbys too. */
export const poolsOf = ({ app, owner, work, pages, exports, health, standbys }: Databases): Database[] => [
  app,
  owner,
  work.app,
  work.owner,
  pages,
  exports,
  health,
  ...standbys.flatMap((one) => [one.app, one.exports, one.owner]),
];

export async function disconnect(databases: Databases): Promise<void> {
  await Promise.all(poolsOf(databases).map((one) => one.destroy()));
}
