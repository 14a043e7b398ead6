// Restores a backup into an empty folder, starts it there, and verifies its ledger.
import { spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { createWriteStream, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { asUser, ensureDatabase, ownFolder, programs, run, startCluster, writeOwn } from '../cluster.mjs';
import { query } from '../query.mjs';
import { runTypeScript } from './commands.mjs';
import { readManifest, sha256Of, succeeded, unpack } from './files.mjs';
import { connectionOf } from './source.mjs';

/** How much of a transaction’s number an epoch is. */
const EPOCH = 2n ** 32n;
/** So long, in seconds, a server may take to read its log. */
const LONGEST_RECOVERY = 3_600;

/**
 * Restores a backup into `to`, which has to be empty or not there, as `FICHE_STATE` names it for `npm start`. A copy of a server is
 * brought to the moment `at` (ISO 8601), or as far as the log goes. Throws, with what is wrong, where anything does not fit.
 * Gives the database’s folder and the verdict on its ledger.
 */
export async function restoreBackup({ from, to, name = 'restored', at = null, key = null, keep = false }) {
  const manifest = readManifest(from);
  if (existsSync(to) && readdirSync(to).length > 0) throw new Error(`${to} is not empty: choose a new folder.`);
  if (at !== null && manifest.kind === 'dump')
    throw new Error('A dump holds one moment only: choose a backup that ends in -base, or leave --at out.');
  const packed = join(from, manifest.file);
  if ((await sha256Of(packed)) !== manifest.sha256)
    throw new Error(`${packed} is not what was written: its SHA-256 differs from the manifest. Choose another backup.`);
  mkdirSync(to, { recursive: true, mode: 0o755 });
  const home = join(to, name);
  const cluster =
    manifest.kind === 'base'
      ? await restoreServer({ packed, home, log: join(dirname(from), 'log'), at, key, superuser: manifest.superuser })
      : await restoreDump({ packed, home, manifest, key });
  try {
    const seal = sealOf(from);
    const address = cluster.url(manifest.database);
    const verdict = runTypeScript('server/src/verifyLedger.ts', { DATABASE_URL: address }, seal ? [seal] : []);
    return { home, database: manifest.database, verdict: verdict.split('\n')[0] };
  } finally {
    cluster.stop();
    if (!keep) rmSync(home, { recursive: true, force: true });
  }
}

/** The hash of the seal that the receipt of a backup names; undefined where nothing was sealed then. */
function sealOf(from) {
  const file = join(from, 'receipt.json');
  return existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')).seal.hash : undefined;
}

/** Unpacks the copy of a server, lets it read the log up to the moment, and starts it. */
async function restoreServer({ packed, home, log, at, key, superuser }) {
  const bin = programs();
  const data = join(home, 'data');
  ownFolder(home);
  ownFolder(data);
  const tar = spawn('tar', ['-x', '-C', data], { ...asUser(), stdio: ['pipe', 'ignore', 'pipe'] });
  await Promise.all([unpack(packed, tar.stdin, key), succeeded(tar, 'tar')]);
  run(`${bin}/pg_verifybackup`, ['--no-parse-wal', '--quiet', data]);
  const quoted = (text) => `'${text.replaceAll("'", "''")}'`;
  const received = join(home, 'received');
  await unpackLog(log, received, firstSegment(data), key);
  const settings = [
    `restore_command = ${quoted(`cp "${received}/%f" "%p"`)}`,
    "recovery_target_action = 'promote'",
    ...(at === null ? [] : [`recovery_target_time = ${quoted(at)}`]),
    // What the server that was copied said of its standbys holds there only.
    "synchronous_standby_names = ''",
  ];
  writeFileSync(join(data, 'postgresql.auto.conf'), `${settings.join('\n')}\n`, { flag: 'a' });
  writeOwn(join(data, 'recovery.signal'), '');
  await recover(home, superuser);
  rmSync(received, { recursive: true });
  return startCluster({ folder: home });
}

/** The segment of the log with which a copied server begins, without the timeline in front. */
const firstSegment = (data) =>
  /START WAL LOCATION: \S+ \(file [0-9A-F]{8}([0-9A-F]{16})\)/.exec(
    readFileSync(join(data, 'backup_label'), 'utf8'),
  )?.[1];

/**
 * Unpacks the kept log from a segment on, and the newest copy of the one that was being written, where the database’s user can
 * read it; nothing where no log was kept.
 */
async function unpackLog(log, into, first, key) {
  ownFolder(into);
  const files = existsSync(log) ? readdirSync(log).filter((one) => /\.gz(\.age)?$/.test(one)) : [];
  for (const file of files) {
    const name = file.replace(/(\.partial)?\.gz(\.age)?$/, '');
    if (/^[0-9A-F]{24}$/.test(name) && name.slice(8) < first) continue;
    const path = join(into, name);
    // A whole segment, where there is one, is read instead of the copy of an unfinished one.
    if (existsSync(path)) continue;
    writeOwn(path, '');
    await unpack(join(log, file), createWriteStream(path, { flags: 'r+' }), key);
  }
}

/** Starts a server that recovers, waits until it takes writes, and gives its superuser a new password. */
async function recover(home, superuser) {
  // Until it has one, only this machine’s superuser reaches it, by a socket in a folder that nobody else can open.
  const rules = join(home, 'restoring.conf');
  writeOwn(rules, 'local all all trust\n');
  const secret = join(home, 'secret');
  writeOwn(secret, randomBytes(24).toString('hex'));
  const cluster = await startCluster({ folder: home, settings: { hba_file: rules }, patience: LONGEST_RECOVERY });
  const where = { host: home, port: cluster.port, user: superuser, database: 'postgres' };
  try {
    for (const until = Date.now() + LONGEST_RECOVERY * 1_000; ; ) {
      const [{ recovering }] = await query(where, 'SELECT pg_is_in_recovery() AS recovering');
      if (!recovering) break;
      if (Date.now() > until) throw new Error('The log is not read to its end within an hour.');
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    const [{ known }] = await query(where, "SELECT EXISTS (SELECT FROM pg_roles WHERE rolname = 'postgres') AS known");
    const password = readFileSync(secret, 'utf8');
    await query(where, `${known ? 'ALTER' : 'CREATE'} ROLE postgres SUPERUSER LOGIN PASSWORD '${password}'`);
  } finally {
    cluster.stop();
    rmSync(rules, { force: true });
  }
}

/** Makes a new server and reads the dump into it. */
async function restoreDump({ packed, home, manifest, key }) {
  const fresh = await startCluster({ folder: home });
  fresh.stop();
  // Numbers of transactions go on above those that the seals know: they are what puts lines in the order of the seals.
  const epoch = BigInt(manifest.transaction) / EPOCH + 1n;
  run(`${fresh.bin}/pg_resetwal`, ['-e', String(epoch), fresh.data]);
  const cluster = await startCluster({ folder: home });
  try {
    const owner = ensureDatabase(cluster, manifest.database);
    await query(owner, 'CREATE ROLE fiche_app LOGIN');
    const { args, env, database } = connectionOf(owner);
    const program = `${cluster.bin}/pg_restore`;
    const reading = spawn(program, ['--no-owner', '--exit-on-error', ...args, '-d', database], {
      env,
      cwd: '/',
      stdio: ['pipe', 'ignore', 'pipe'],
    });
    await Promise.all([unpack(packed, reading.stdin, key), succeeded(reading, program)]);
    return cluster;
  } catch (error) {
    cluster.stop();
    throw error;
  }
}
