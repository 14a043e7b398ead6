// Takes one backup: a copy of the whole server with the log that belongs to it, or a dump of the one database.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { query } from '../query.mjs';
import { runTypeScript } from './commands.mjs';
import { pack, readManifest, succeeded, writeManifest } from './files.mjs';
import { connectionOf } from './source.mjs';

/** `2026-11-27T18.15.00Z`: names of backups in the order in which they were taken. */
const momentName = (now) => `${now.toISOString().slice(0, 19).replaceAll(':', '.')}Z`;

/** What PostgreSQL’s program writes as a backup of this kind. */
function copyOf(kind, { bin, owner, replication }) {
  const { args, env, database } = connectionOf(kind === 'base' ? replication : owner);
  const [program, options] =
    kind === 'base'
      ? [`${bin}/pg_basebackup`, ['-D', '-', '-Ft', '-X', 'fetch', '-c', 'fast', '-l', 'fiche', ...args]]
      : [`${bin}/pg_dump`, ['-Fc', '-Z0', ...args, '-d', database]];
  return { program, child: spawn(program, options, { env, cwd: '/', stdio: ['ignore', 'pipe', 'pipe'] }) };
}

/**
 * Takes a backup into a folder of its own under `to`, notes it in the database, and gives the folder. `key` is a file with age
 * recipients, for whom it is encrypted; null leaves it readable.
 */
export async function takeBackup(source, { kind, to, key, now = new Date() }) {
  const folder = join(to, `${momentName(now)}-${kind}`);
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const [{ segment }] = await query(
    source.owner,
    'SELECT pg_walfile_name(pg_current_wal_lsn()) AS segment WHERE NOT pg_is_in_recovery()',
  );
  const [{ id }] = await query(
    source.owner,
    "INSERT INTO fiche.backup (kind, state, place, encrypted) VALUES ($1, 'running', $2, $3) RETURNING id",
    [kind, folder, key !== null],
  );
  try {
    // Whoever holds the receipt finds out whether what is restored is what was backed up.
    const receipt = runTypeScript('server/src/newestReceipt.ts', { DATABASE_URL: source.owner });
    if (receipt !== '') writeFileSync(join(folder, 'receipt.json'), receipt);
    const { program, child } = copyOf(kind, source);
    const [packed] = await Promise.all([pack(child.stdout, folder, kind, key), succeeded(child, program)]);
    const [server] = await query(
      source.owner,
      // The role with the number 10 is the one that the server was made with.
      "SELECT current_setting('server_version') AS postgres, pg_snapshot_xmax(pg_current_snapshot())::text AS transaction, current_database() AS database," +
        ' (SELECT rolname FROM pg_roles WHERE oid = 10) AS superuser',
    );
    writeManifest(folder, {
      kind,
      begun: now.toISOString(),
      ended: new Date().toISOString(),
      segment,
      ...server,
      ...packed,
    });
    await noteEnd(source, id, { state: 'done', bytes: packed.bytes });
    return { folder, id, bytes: packed.bytes };
  } catch (error) {
    await noteEnd(source, id, { state: 'failed', message: error.message.slice(0, 500) }).catch(() => undefined);
    throw error;
  }
}

const noteEnd = (source, id, { state, bytes = null, message = null }) =>
  query(source.owner, 'UPDATE fiche.backup SET ended_at = now(), state = $2, bytes = $3, message = $4 WHERE id = $1', [
    id,
    state,
    bytes,
    message,
  ]);

/** Notes that a backup was restored and its ledger verified. */
export const noteVerified = (source, id) =>
  query(source.owner, 'UPDATE fiche.backup SET verified_at = now() WHERE id = $1', [id]);

/**
 * Removes all but the newest backups of each kind, so many of it, and the log that none of those left needs. Gives the names of what
 * was removed. Folders without a manifest, of backups that failed, go too once a newer one is whole.
 */
export function removeOld(to, most) {
  const names = readdirSync(to).filter((one) => /-(base|dump)$/.test(one));
  const isWhole = (name) => existsSync(join(to, name, 'manifest.json'));
  const kept = ['base', 'dump'].flatMap((kind) =>
    names
      .filter((one) => one.endsWith(kind) && isWhole(one))
      .sort()
      .slice(-most),
  );
  const newest = [...kept].sort().at(-1) ?? '';
  const removed = names.filter((one) => !kept.includes(one) && (isWhole(one) || one < newest));
  for (const name of removed) rmSync(join(to, name), { recursive: true });
  const first = kept
    .filter((one) => one.endsWith('base'))
    .map((one) => readManifest(join(to, one)).segment.slice(8))
    .sort()[0];
  const log = join(to, 'log');
  if (first === undefined || !existsSync(log)) return removed;
  const before = readdirSync(log).filter((one) => /^[0-9A-F]{24}\./.test(one) && one.slice(8, 24) < first);
  for (const name of before) rmSync(join(log, name));
  return [...removed, ...before];
}
