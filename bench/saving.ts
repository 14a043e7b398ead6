import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import { Agent, request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fillBerths, openBenchOffice, type Ratio } from './office.ts';

const CLIENTS = 8;
const SECONDS = 8;
const BERTHS = 5_000;

/** Saves a second: through HTTP, validated and captured, against pgbench doing the same insert with the same triggers. */
export async function savingBench(): Promise<Ratio[]> {
  const office = await openBenchOffice();
  await fillBerths(office.databases, 50, BERTHS);
  const server = spawn(process.execPath, ['--import', 'tsx', 'bench/server.ts'], {
    env: { ...process.env, DATABASE_URL: office.ownerUrl },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  try {
    const port = await portOf(server);
    // In turn, so that a machine that slows down slows both.
    const rounds: { plain: number; http: number }[] = [];
    for (let round = 0; round < 2; round++)
      rounds.push({ plain: pgbench(office.ownerUrl), http: await overHttp(port) });
    const mean = (pick: (round: { plain: number; http: number }) => number): number =>
      rounds.reduce((sum, round) => sum + pick(round), 0) / rounds.length;
    const [plain, http] = [mean((round) => round.plain), mean((round) => round.http)];
    return [
      {
        what: 'saving a record through HTTP against pgbench',
        ratio: http / plain,
        aim: '≥ 0.5',
        detail: `${http.toFixed(0)} against ${plain.toFixed(0)} saves a second, ${CLIENTS} clients`,
      },
    ];
  } finally {
    server.kill('SIGKILL');
    await office.close();
  }
}

const portOf = (server: ChildProcess): Promise<number> =>
  new Promise((resolve, reject) => {
    server.stdout?.once('data', (chunk) => resolve(Number(String(chunk).trim())));
    server.once('exit', () => reject(new Error('The server ended')));
  });

/** The same insert, as the application's role and with its actor, in one transaction. */
function pgbench(ownerUrl: string): number {
  const script = join(tmpdir(), `fiche-bench-${process.pid}.sql`);
  writeFileSync(
    script,
    [
      `\\set berth random(1, ${BERTHS})`,
      'BEGIN;',
      `SELECT set_config('fiche.actor', 'harbourmaster', true), set_config('fiche.through', '{"kind":"form","label":"Check-in","version":1}', true);`,
      `INSERT INTO data.quay_stays (pontoon, berth, registration, length, arrival, departure) VALUES (1 + :berth % 50, :berth, 'GS-0421', 11.2, '2026-08-17 15:30', '2026-08-19 10:00');`,
      'COMMIT;',
    ].join('\n'),
  );
  const url = new URL(ownerUrl);
  const done = spawnSync(
    join(process.env.FICHE_BENCH_BIN ?? '', 'pgbench'),
    [
      '-n',
      '-M',
      'prepared',
      '-c',
      String(CLIENTS),
      '-j',
      '2',
      '-T',
      String(SECONDS),
      '-f',
      script,
      '-h',
      url.hostname,
      '-p',
      url.port,
      '-U',
      url.username,
      url.pathname.slice(1),
    ],
    {
      encoding: 'utf8',
      env: { ...process.env, PGPASSWORD: url.password },
    },
  );
  const tps = /tps = ([\d.]+)/.exec(done.stdout)?.[1];
  if (!tps) throw new Error(`pgbench failed: ${done.stderr}`);
  return Number(tps);
}

async function overHttp(port: number): Promise<number> {
  const agent = new Agent({ keepAlive: true, maxSockets: CLIENTS });
  const { cookie, csrf } = await signIn(port, agent);
  const end = performance.now() + SECONDS * 1_000;
  let saves = 0;
  const client = async (): Promise<void> => {
    while (performance.now() < end) {
      const berth = 1 + Math.floor(Math.random() * BERTHS);
      const values = {
        pontoon: 1 + (berth % 50),
        berth,
        registration: 'GS-0421',
        length: 11.2,
        arrival: '2026-08-17T15:30',
        departure: '2026-08-19T10:00',
      };
      const { status, text } = await post(
        port,
        agent,
        '/api/forms/quay_check_in/entries',
        { values },
        { cookie, 'x-fiche-csrf': csrf, 'idempotency-key': randomUUID() },
      );
      if (status !== 200) throw new Error(`${status}: ${text}`);
      saves += 1;
    }
  };
  await Promise.all(Array.from({ length: CLIENTS }, client));
  agent.destroy();
  return saves / SECONDS;
}

async function signIn(port: number, agent: Agent): Promise<{ cookie: string; csrf: string }> {
  const { text, headers } = await post(
    port,
    agent,
    '/api/session',
    { login: 'harbourmaster', password: 'bench-password' },
    {},
  );
  return { cookie: String(headers['set-cookie']?.[0]).split(';')[0] ?? '', csrf: JSON.parse(text).csrf };
}

function post(port: number, agent: Agent, path: string, body: object, headers: Record<string, string>) {
  return new Promise<{ status: number; text: string; headers: import('node:http').IncomingHttpHeaders }>(
    (resolve, reject) => {
      const sent = request(
        {
          host: '127.0.0.1',
          port,
          path,
          method: 'POST',
          agent,
          headers: { 'content-type': 'application/json', ...headers },
        },
        (reply) => {
          let text = '';
          reply.setEncoding('utf8');
          reply.on('data', (chunk) => {
            text += chunk;
          });
          reply.on('end', () => resolve({ status: reply.statusCode ?? 0, text, headers: reply.headers }));
        },
      );
      sent.on('error', reject);
      sent.end(JSON.stringify(body));
    },
  );
}
