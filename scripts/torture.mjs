// Kills and restarts server and database under load, and checks that nothing acknowledged was lost, doubled or halved;
// then tampers with copies of a ledger in every way that is promised to be found. Bounded, and on loopback only.
//   npm run torture -- [rounds, 100 when left out] [--without-tampering]
//   npm run torture -- --short: the database alone is killed, once under load and while files are brought in; no tampering
import { spawnSync } from 'node:child_process';
import { ensureDatabase, freePort, startCluster } from './cluster.mjs';
import { installPackages, root } from './install.mjs';
import { callerOf } from './load/client.mjs';
import { makeQuay } from './load/quayOffice.mjs';
import { Saves } from './load/saves.mjs';
import { ended, startServer } from './load/startServer.mjs';
import { query } from './query.mjs';

installPackages();
const short = process.argv.includes('--short');
const ROUNDS = short ? 1 : Math.min(1_000, Number(process.argv.slice(2).find((one) => /^\d+$/.test(one)) ?? 100));
const WRITERS = 8;
/** Rows of the files that are brought in while the database is killed; fewer in the short form that is part of the tests. */
const ROWS = short ? 5_000 : 20_000;
const cluster = await startCluster({ throwaway: true, synced: true });
const owner = ensureDatabase(cluster, 'torture');
const port = await freePort();
const base = `http://127.0.0.1:${port}`;
const wait = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

let server;
const caller = callerOf(base);
const { call, must } = caller;

/** Starts the server on its port; the first time with the link of the first administrator. */
async function start(wantsLink = false) {
  const started = await startServer({ env: { DATABASE_URL: owner, PORT: String(port) }, wantsLink });
  server = started.child;
  return started.link;
}

async function killServer() {
  server.kill('SIGKILL');
  await ended(server);
}

/** Kills the database's first process, and starts it again on its port. */
async function killDatabase() {
  cluster.kill();
  for (let tries = 1; ; tries++)
    try {
      // The others of its processes notice within moments that it is gone.
      await wait(300);
      cluster.start();
      return;
    } catch (error) {
      if (tries === 60) throw error;
    }
}

const sql = (text) => query(owner, text);

/** Runs writers until something is killed under them; then everything that got no answer is sent again. */
async function round(number, saves) {
  const stop = saves.begin(caller, number, { writers: WRITERS });
  await wait(150 + Math.random() * 700);
  const database = short || number % 2 === 0;
  if (database) await killDatabase();
  else {
    await killServer();
    await start();
  }
  await wait(100);
  await stop();
  await saves.settle(caller);
}

/** When the database is killed while a file is brought in. */
const KILL_POINTS = short
  ? ['during the check', 'during the write', 'after the write']
  : ['before the check', 'during the check', 'after the check', 'during the write', 'after the write'];

/** Brings a file in while the database is killed at a point: what was told as written has to be there, once. */
async function killedImport(point, rows) {
  const name = point.replaceAll(' ', '-');
  const file = `Number\n${Array.from({ length: rows }, (_, n) => `${name}-${n}`).join('\n')}\n`;
  const { body: received } = await must('POST', `/api/cabinets/quay/imports?file=berths.csv`, file);
  const address = `/api/cabinets/quay/imports/${received.id}`;
  const plan = {
    reading: { kind: 'csv' },
    into: { kind: 'table', table: 'quay_berths' },
    columns: [{ at: 0, name: 'Number', to: { kind: 'field', field: 'number' } }],
  };
  const over = async (begun) => {
    for (let task = begun; ; ) {
      if (!['waiting', 'running'].includes(task.state)) return task;
      await wait(200);
      const answer = await call('GET', `/api/cabinets/quay/tasks/${begun.id}`);
      if (answer?.status === 200) task = answer.body;
    }
  };
  const ask = async (path, body) => {
    for (let tries = 0; tries < 300; tries++) {
      const answer = await call('POST', `${address}/${path}`, body);
      if (answer?.status === 200) return over(answer.body);
      if (answer && answer.status < 500 && !/is at work on this/.test(answer.body.detail))
        return { state: 'failed', message: answer.body.detail };
      await wait(200);
    }
    throw new Error(`The import is never over: ${path}`);
  };
  /** What is asked, with the database killed a moment after. */
  const killedDuring = async (asking) => {
    await wait(150);
    await killDatabase();
    return asking;
  };
  if (point === 'before the check') await killDatabase();
  const checked = ask('check', { plan });
  if (point === 'during the check') await killedDuring(checked);
  let task = await checked;
  if (point === 'after the check') await killDatabase();
  const writing = ask('run', { rows: 'all' });
  if (point === 'during the write') await killedDuring(writing);
  task = await writing;
  let again = 0;
  while (task.state === 'failed' && again < 5) {
    again++;
    const { body } = (await call('GET', address)) ?? { body: {} };
    if (body.state === 'written') break;
    await ask('check', { plan });
    task = await ask('run', { rows: 'all' });
  }
  if (point === 'after the write') await killDatabase();
  const { body: told } = await must('GET', address);
  const [{ n }] = await sql(`SELECT count(*)::int AS n FROM data.quay_berths WHERE number LIKE '${name}-%'`);
  return { told: told.counts?.add, there: n, again };
}

let failed = false;
try {
  const saves = new Saves(await makeQuay(caller, await start(true)));
  const begun = Date.now();
  for (let number = 1; number <= ROUNDS; number++) {
    await round(number, saves);
    if (process.stdout.isTTY)
      process.stdout.write(`\rround ${number} of ${ROUNDS}, ${saves.acknowledged.size} saves acknowledged`);
  }
  if (process.stdout.isTTY) process.stdout.write('\n');
  const { acknowledged, lost, doubled, half, unasked } = await saves.account(sql);
  process.stdout.write(
    `${ROUNDS} ${ROUNDS === 1 ? 'kill' : 'kills'} (${short ? 'the database' : 'server and database in turn'}) in ${Math.round((Date.now() - begun) / 1000)} s under ${WRITERS} writers: ${acknowledged} saves acknowledged, ${lost} lost, ${doubled} doubled, ${half} half, ${unasked} that nobody sent\n`,
  );
  const [linked] = await sql(
    `SELECT (SELECT count(*)::int FROM data.quay_stays WHERE owner IS NULL) AS none,
       (SELECT count(*)::int FROM (SELECT name FROM data.quay_owners GROUP BY 1 HAVING count(*) > 1) twice) AS twice,
       (SELECT count(*)::int FROM data.quay_owners o WHERE NOT EXISTS (SELECT FROM data.quay_stays s WHERE s.owner = o.id)) AS alone,
       (SELECT count(*)::int FROM data.quay_owners) AS owners`,
  );
  failed ||= linked.none + linked.twice + linked.alone > 0;
  process.stdout.write(
    `Into two tables: ${linked.owners} owners, ${linked.twice} added twice, ${linked.alone} without a stay, ${linked.none} stays without an owner\n`,
  );
  const [rippled] = await sql(
    `SELECT (SELECT count(*)::int FROM data.quay_stays s WHERE (SELECT count(*) FROM data.quay_log l WHERE l.stay = s.id) <> 1) AS wrong,
       (SELECT count(*)::int FROM data.quay_log) AS lines, (SELECT count(*)::int FROM fiche.rippled) AS kept`,
  );
  failed ||= rippled.wrong > 0 || rippled.kept !== rippled.lines;
  process.stdout.write(
    `Set off by them: ${rippled.lines} lines of a ripple, ${rippled.wrong} stays without their one line\n`,
  );
  for (const point of KILL_POINTS) {
    const { told, there: kept, again } = await killedImport(point, ROWS);
    const right = told === ROWS && kept === ROWS;
    failed ||= !right;
    process.stdout.write(
      `Import, database killed ${point}: told ${told} rows, ${kept} are there${again > 0 ? `, after ${again === 1 ? 'another check' : `${again} more checks`}` : ''}\n`,
    );
  }
  const verified = spawnSync(process.execPath, ['--import', 'tsx', 'server/src/verifyLedger.ts'], {
    cwd: root,
    env: { ...process.env, DATABASE_URL: owner },
    encoding: 'utf8',
  });
  process.stdout.write(verified.stdout);
  failed ||= lost + doubled + half + unasked > 0 || verified.status !== 0;
  if (!short && !process.argv.includes('--without-tampering')) {
    const env = { ...process.env, FICHE_TEST_CLUSTER: cluster.url(), FICHE_TEST_OWNER: owner };
    const table = spawnSync(process.execPath, ['--import', 'tsx', 'server/src/fixtures/tamperingTable.ts'], {
      cwd: root,
      env,
      encoding: 'utf8',
      stdio: ['ignore', 'inherit', 'inherit'],
    });
    failed ||= table.status !== 0;
  }
} catch (error) {
  failed = true;
  process.stderr.write(`${error.message}\n`);
} finally {
  server?.kill('SIGKILL');
  cluster.stop();
}
process.stdout.write(failed ? 'Something did not hold.\n' : 'Everything held.\n');
process.exit(failed ? 1 : 0);
