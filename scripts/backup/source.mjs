// The database that is backed up: DATABASE_URL, or the one that `npm start` keeps.
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { checkoutName, ensureDatabase, hostAddresses, programs, startCluster, stateFolder } from '../cluster.mjs';
import { query } from '../query.mjs';

/** Of the hosts of an address, the one that takes writes: there a backup is noted. Throws where none answers. */
async function writableOf(url) {
  const addresses = hostAddresses(url);
  if (addresses.length === 1) return url;
  for (const address of addresses) {
    const [found] = await query(address, 'SELECT pg_is_in_recovery() AS waits').catch(() => []);
    if (found?.waits === false) return address;
  }
  throw new Error('None of the database servers in DATABASE_URL takes writes just now.');
}

/**
 * Where a backup comes from: `owner` is the address of the database, `replication` that of a role that may copy the whole
 * server (null where none is known), `bin` the folder of PostgreSQL’s programs. To be let go with `stop`.
 */
export async function openSource({ empty = false } = {}) {
  const given = process.env.DATABASE_URL;
  if (given)
    return {
      bin: programs(),
      owner: await writableOf(given),
      replication: process.env.DATABASE_BACKUP_URL ?? null,
      stop: () => undefined,
    };
  const folder = stateFolder(checkoutName());
  if (!existsSync(join(folder, 'data')))
    throw new Error('There is no database here yet: run npm start first, or set DATABASE_URL to the one to back up.');
  const cluster = await startCluster({ folder, borrow: true });
  return {
    bin: cluster.bin,
    owner: ensureDatabase(cluster, empty ? 'fiche_empty' : 'fiche'),
    replication: cluster.url(),
    stop: () => cluster.stop(),
  };
}

/** How PostgreSQL’s programs are told an address: as options, and the password where no list of processes shows it. */
export function connectionOf(url) {
  const { hostname, port, username, password } = new URL(url);
  return {
    args: ['-h', hostname, '-p', port || '5432', '-U', decodeURIComponent(username)],
    env: { ...process.env, PGPASSWORD: decodeURIComponent(password) },
    database: decodeURIComponent(new URL(url).pathname.slice(1)),
  };
}
