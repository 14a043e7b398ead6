// Runs Fiche with the sample data: installs what is missing, starts a database, builds, and serves.
import { spawn, spawnSync } from 'node:child_process';
import { checkoutName, ensureDatabase, hostAddresses, startCluster, stateFolder } from './cluster.mjs';
import { giveUp, installPackages, portIsFree, root } from './install.mjs';

const empty = process.argv.includes('--empty');
const port = Number(process.env.PORT ?? 4600);
const host = process.env.HOST ?? '127.0.0.1';

if (!Number.isInteger(port) || port < 0 || port > 65535)
  giveUp(`PORT is ${process.env.PORT}: give a number from 0 to 65535.`);
if (port !== 0 && !(await portIsFree(port, host)))
  giveUp(`Port ${port} is taken: stop what uses it, or choose another with PORT=….`);
installPackages();

let cluster;
let url = process.env.DATABASE_URL;
if (!url) {
  try {
    cluster = await startCluster({ folder: stateFolder(checkoutName()), hold: true });
    url = ensureDatabase(cluster, empty ? 'fiche_empty' : 'fiche');
  } catch (error) {
    cluster?.stop();
    giveUp(error.message);
  }
}
/** Gives up where no host of a database of somebody’s own answers, before anything is built. */
async function requireAnswer(address) {
  const { default: pg } = await import('pg');
  const asked = await Promise.allSettled(
    hostAddresses(address).map(async (connectionString) => {
      const client = new pg.Client({ connectionString, connectionTimeoutMillis: 10_000 });
      await client.connect().finally(() => client.end().catch(() => {}));
    }),
  );
  if (asked.some((one) => one.status === 'fulfilled')) return;
  const [{ reason }] = asked;
  giveUp(
    `The database cannot be used: ${reason.message || reason.code}. Check that PostgreSQL runs and DATABASE_URL is right.`,
  );
}
if (process.env.DATABASE_URL) await requireAnswer(url);
const stop = (code) => {
  cluster?.stop();
  process.exit(code);
};
// The sample office, with accounts whose password is known, is made in a database of our own only.
const sample = !empty && !process.env.DATABASE_URL;
const env = {
  ...process.env,
  DATABASE_URL: url,
  PORT: String(port),
  HOST: host,
  FICHE_SAMPLE: sample ? '1' : '0',
  ...(cluster ? { FICHE_DATA_FOLDER: cluster.data } : {}),
};
const step = (args, cwd = root) => {
  const done = spawnSync(process.execPath, args, { cwd, env, encoding: 'utf8', stdio: ['ignore', 'inherit', 'pipe'] });
  if (done.status !== 0) {
    process.stderr.write(`${done.stderr.trim().split('\n').at(-1)}\n`);
    stop(1);
  }
};
step([`${root}node_modules/vite/bin/vite.js`, 'build', '--logLevel', 'error'], `${root}web`);
if (sample) step(['--import', 'tsx', 'demo/run.ts']);

// In a session of its own, so that Ctrl+C reaches this script first and the server ends before its database does.
const server = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
  cwd: root,
  env,
  stdio: ['ignore', 'inherit', 'inherit'],
  detached: true,
});
let stopping = false;
const end = () => {
  if (stopping) return;
  stopping = true;
  server.kill('SIGTERM');
};
process.on('SIGINT', end);
process.on('SIGTERM', end);
process.on('SIGHUP', end);
server.on('exit', (code) => stop(stopping ? 0 : (code ?? 1)));
