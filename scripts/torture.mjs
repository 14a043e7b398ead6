// Kills and restarts server and database under load, and checks that nothing acknowledged was lost, doubled or halved;
// then tampers with copies of a ledger in every way that is promised to be found. Bounded, and on loopback only.
//   npm run torture -- [rounds, 100 when left out] [--without-tampering]
import { spawn, spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ensureDatabase, freePort, startCluster } from './cluster.mjs';
import { installPackages, root } from './install.mjs';

installPackages();
const { default: pg } = await import('pg');
const ROUNDS = Math.min(1_000, Number(process.argv.slice(2).find((one) => /^\d+$/.test(one)) ?? 100));
const WRITERS = 8;
const LINES = 3;
/** Rows of the files that are brought in while the database is killed; fewer in the short form that is part of the tests. */
const ROWS = ROUNDS < 10 ? 5_000 : 20_000;
const cluster = await startCluster({ throwaway: true, synced: true });
const owner = ensureDatabase(cluster, 'torture');
const port = await freePort();
const base = `http://127.0.0.1:${port}`;
const wait = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

let server;
let firstLink;

/** Starts the server and waits until it says that it is open. */
async function startServer() {
  const env = {
    ...process.env,
    DATABASE_URL: owner,
    PORT: String(port),
    HOST: '127.0.0.1',
    FICHE_SAMPLE: '0',
    LOG_LEVEL: 'silent',
  };
  server = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
    cwd: root,
    env,
    stdio: ['ignore', 'pipe', 'ignore'],
  });
  await new Promise((resolve, reject) => {
    let said = '';
    server.stdout.on('data', (chunk) => {
      said += chunk;
      firstLink ??= /welcome#(\S+)/.exec(said)?.[1];
      if (/Fiche is open/.test(said) && (firstLink || secrets.cookie)) resolve();
    });
    server.on('exit', () => reject(new Error('The server ended while it started')));
  });
}

const ended = (child) =>
  child.exitCode !== null || child.signalCode !== null
    ? Promise.resolve()
    : new Promise((resolve) => child.on('exit', resolve));

async function killServer() {
  const gone = ended(server);
  server.kill('SIGKILL');
  await gone;
}

/** Kills the database's first process, and starts it again on its port. */
async function killDatabase() {
  const pid = Number(readFileSync(join(cluster.data, 'postmaster.pid'), 'utf8').split('\n')[0]);
  process.kill(pid, 'SIGKILL');
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

const secrets = { cookie: '', csrf: '' };

/** One request; `undefined` when there was no answer. */
async function call(method, path, body, headers = {}) {
  try {
    const reply = await fetch(`${base}${path}`, {
      method,
      signal: AbortSignal.timeout(30_000),
      headers: {
        ...(typeof body === 'string'
          ? { 'content-type': 'application/octet-stream' }
          : body
            ? { 'content-type': 'application/json' }
            : {}),
        ...(secrets.cookie ? { cookie: secrets.cookie, 'x-fiche-csrf': secrets.csrf } : {}),
        ...headers,
      },
      ...(body ? { body: typeof body === 'string' ? body : JSON.stringify(body) } : {}),
    });
    const cookie = reply.headers.get('set-cookie');
    return { status: reply.status, body: await reply.json(), cookie };
  } catch {
    return undefined;
  }
}

async function must(method, path, body, headers) {
  const answer = await call(method, path, body, headers);
  if (answer?.status !== 200) throw new Error(`${method} ${path}: ${JSON.stringify(answer)?.slice(0, 400)}`);
  return answer;
}

async function signIn() {
  secrets.cookie = '';
  const { body, cookie } = await must('POST', '/api/session', { login: 'harbourmaster', password: PASSWORD });
  secrets.cookie = cookie.split(';')[0];
  secrets.csrf = body.csrf;
}

const PASSWORD = `torture ${randomUUID()}`;
let form;
let cabinet;

/** An office with a form that has lines, made over HTTP from nothing. */
async function makeOffice() {
  await must('POST', '/api/first-administrator', {
    token: firstLink,
    login: 'harbourmaster',
    displayName: 'Harbour master',
    password: PASSWORD,
    cabinet: 'Quay',
  });
  await signIn();
  cabinet = 'quay';
  for (const label of ['Owners', 'Stays', 'Services', 'Berths', 'Log'])
    await must('POST', `/api/cabinets/${cabinet}/tables`, { label });
  for (const [table, field] of [
    ['quay_owners', { label: 'Name', type: 'text' }],
    ['quay_stays', { label: 'Name', type: 'text' }],
    ['quay_stays', { label: 'Owner', type: 'link', settings: { table: 'quay_owners' } }],
    ['quay_services', { label: 'Stay', type: 'link', settings: { table: 'quay_stays' } }],
    ['quay_services', { label: 'Item', type: 'text' }],
    ['quay_berths', { label: 'Number', type: 'text' }],
    ['quay_log', { label: 'Stay', type: 'link', settings: { table: 'quay_stays' } }],
    ['quay_log', { label: 'What', type: 'text' }],
  ])
    await must('POST', `/api/tables/${table}/fields`, { field });
  // Every stay that is added sets off a line of the log.
  await must('PATCH', '/api/tables/quay_stays', {
    ripples: [
      {
        id: 'log',
        label: 'Log',
        on: ['added'],
        when: { kind: 'group', match: 'all', of: [] },
        effects: [
          {
            does: 'add',
            table: 'quay_log',
            values: [
              { to: 'stay', from: { kind: 'record' } },
              { to: 'what', from: { kind: 'field', path: 'name' } },
            ],
          },
        ],
      },
    ],
  });
  const made = await must('POST', `/api/cabinets/${cabinet}/forms`, {
    table: 'quay_stays',
    label: 'Check-in',
    subforms: ['quay_services.stay'],
  });
  form = made.body.id;
  const draft = await must('GET', `/api/forms/${form}/draft`);
  const saved = await must('PUT', `/api/forms/${form}/draft`, {
    definition: withOwner(draft.body.definition),
    revision: draft.body.revision,
  });
  await must('POST', `/api/forms/${form}/publish`, { revision: saved.body.revision });
  const [subform] = draft.body.definition.sections.flatMap((one) => one.items).filter((one) => one.kind === 'subform');
  return subform.id;
}

/** The form with a second table: the owner of a stay is found by name, or added, and the stay points there. */
const withOwner = (definition) => ({
  ...definition,
  destinations: {
    of: [{ id: 'owner', table: 'quay_owners', does: 'findOrAdd', key: ['name'], over: 'blanks', several: 'refuse' }],
    links: [{ of: 'self', field: 'owner', to: 'owner' }],
    copies: [],
  },
  sections: definition.sections.map((section, at) => ({
    ...section,
    items: [
      ...section.items.filter((item) => item.field !== 'owner'),
      ...(at === 0 ? [{ kind: 'field', field: 'owner__name' }] : []),
    ],
  })),
});

/** So many owners are named by all saves of a round, many at once. */
const OWNERS = 40;
const ownerOf = (key) => `${key.split('-')[1]}-${key.charCodeAt(key.length - 1) % OWNERS}`;

/** Saves by key: those that were acknowledged, and those that are not known to be. */
const acknowledged = new Set();
const open = new Map();

const bodyOf = (key, subform) => ({
  values: { name: key, owner__name: ownerOf(key) },
  lines: { [subform]: Array.from({ length: LINES }, (_, n) => ({ key: `l${n}`, values: { item: `${key}-${n}` } })) },
});

async function save(key, subform) {
  const body = open.get(key) ?? bodyOf(key, subform);
  open.set(key, body);
  const answer = await call('POST', `/api/forms/${form}/entries`, body, { 'idempotency-key': key });
  if (answer?.status !== 200) return false;
  acknowledged.add(key);
  open.delete(key);
  return true;
}

const sql = async (text) => {
  const client = new pg.Client({ connectionString: owner });
  await client.connect();
  try {
    return (await client.query(text)).rows;
  } finally {
    await client.end();
  }
};

/** Runs writers until something is killed under them; then everything that got no answer is sent again. */
async function round(number, subform) {
  let going = true;
  const writers = Array.from({ length: WRITERS }, async (_, n) => {
    while (going) {
      const key = `round-${number}-${n}-${randomUUID()}`;
      // A server that is away is not asked all the time: what is open then is sent again, one after the other.
      if (!(await save(key, subform))) await wait(200);
    }
  });
  await wait(150 + Math.random() * 700);
  const database = number % 2 === 0;
  if (database) await killDatabase();
  else {
    await killServer();
    await startServer();
  }
  await wait(100);
  going = false;
  await Promise.all(writers);
  for (let tries = 0; open.size > 0; tries++) {
    if (tries > 100) throw new Error(`${open.size} saves are never acknowledged`);
    for (const key of [...open.keys()]) await save(key, subform);
    if (open.size > 0) await wait(200);
  }
}

/** When the database is killed while a file is brought in. */
const KILL_POINTS = ['before the check', 'during the check', 'after the check', 'during the write', 'after the write'];

/** Brings a file in while the database is killed at a point: what was told as written has to be there, once. */
async function killedImport(point, rows) {
  const name = point.replaceAll(' ', '-');
  const file = `Number\n${Array.from({ length: rows }, (_, n) => `${name}-${n}`).join('\n')}\n`;
  const { body: received } = await must('POST', `/api/cabinets/${cabinet}/imports?file=berths.csv`, file);
  const address = `/api/cabinets/${cabinet}/imports/${received.id}`;
  const plan = {
    reading: { kind: 'csv' },
    into: { kind: 'table', table: 'quay_berths' },
    columns: [{ at: 0, name: 'Number', to: { kind: 'field', field: 'number' } }],
  };
  const over = async (begun) => {
    for (let task = begun; ; ) {
      if (!['waiting', 'running'].includes(task.state)) return task;
      await wait(200);
      const answer = await call('GET', `/api/cabinets/${cabinet}/tasks/${begun.id}`);
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
  await startServer();
  const subform = await makeOffice();
  const begun = Date.now();
  for (let number = 1; number <= ROUNDS; number++) {
    await round(number, subform);
    if (process.stdout.isTTY)
      process.stdout.write(`\rround ${number} of ${ROUNDS}, ${acknowledged.size} saves acknowledged`);
  }
  if (process.stdout.isTTY) process.stdout.write('\n');
  const rows = await sql(
    'SELECT s.name, count(DISTINCT s.id)::int AS records, count(l.id)::int AS lines FROM data.quay_stays s LEFT JOIN data.quay_services l ON l.stay = s.id GROUP BY 1',
  );
  const there = new Map(rows.map((row) => [row.name, row]));
  const lost = [...acknowledged].filter((key) => !there.has(key)).length;
  const doubled = rows.filter((row) => row.records > 1).length;
  const half = rows.filter((row) => row.lines !== LINES * row.records).length;
  const unasked = rows.filter((row) => !acknowledged.has(row.name)).length;
  process.stdout.write(
    `${ROUNDS} kills (server and database in turn) in ${Math.round((Date.now() - begun) / 1000)} s under ${WRITERS} writers: ${acknowledged.size} saves acknowledged, ${lost} lost, ${doubled} doubled, ${half} half, ${unasked} that nobody sent\n`,
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
  if (!process.argv.includes('--without-tampering')) {
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
