import { randomUUID } from 'node:crypto';
import { get, type IncomingMessage } from 'node:http';
import { Client, signIn } from './client.ts';
import { fillBerths, openBenchOffice } from './office.ts';
import { memoryOf, portOf, startServer, stopServer } from './serving.ts';

// A mixed load, bounded and on loopback: event streams that listen while clients save, change, read history and look.
const STREAMS = 200;
/** A session has at most 30 streams. */
const SESSIONS = 10;
const CLIENTS = 32;
const WARM_SECONDS = 20;
const SECONDS = Number(process.env.FICHE_LOAD_SECONDS ?? 60);
const BERTHS = 5_000;
/** Beyond this, 95 of 100 of each kind of request shall not take, in ms. */
const AIM_MS = 250;

type Kind = 'save' | 'change' | 'history' | 'choices' | 'list';
/** How often each kind comes, of 20. */
const MIX: readonly Kind[] = (
  Object.entries({ save: 8, change: 4, history: 4, choices: 3, list: 1 }) as [Kind, number][]
).flatMap(([kind, n]) => Array<Kind>(n).fill(kind));

interface Saved {
  readonly id: number;
  version: number;
}

const pickOf = <T>(list: readonly T[]): T | undefined => list[Math.floor(Math.random() * list.length)];
const valuesOf = (berth: number): object => ({
  pontoon: 1 + (berth % 50),
  berth,
  registration: 'GS-0421',
  length: 11.2,
  arrival: '2026-08-17T15:30',
  departure: `2026-08-${19 + (berth % 10)}T10:00`,
});
const entries = '/api/forms/quay_check_in/entries';

/** Sends one request of a kind. A change that somebody else was quicker with is an answer like any other. */
async function once(client: Client, kind: Kind, saved: Saved[]): Promise<void> {
  const berth = 1 + Math.floor(Math.random() * BERTHS);
  const key = `idempotency-key: ${randomUUID()}\r\n`;
  const record = pickOf(saved);
  const told = async (method: string, path: string, body = '', headers = '', well: readonly number[] = [200]) => {
    const answer = await client.send(method, path, body, headers);
    if (!well.includes(answer.status)) throw new Error(`${method} ${path}: ${answer.status} ${answer.body}`);
    return answer;
  };
  if (kind === 'save' || !record) {
    const { body } = await told('POST', entries, JSON.stringify({ values: valuesOf(berth) }), key);
    const { id, version } = (JSON.parse(body) as { record: Saved }).record;
    saved.push({ id, version });
  } else if (kind === 'change') {
    const body = JSON.stringify({ record: record.id, version: record.version, values: valuesOf(berth) });
    const answer = await told('POST', entries, body, key, [200, 409]);
    if (answer.status === 200) record.version = (JSON.parse(answer.body) as { record: Saved }).record.version;
  } else if (kind === 'history') await told('GET', `/api/tables/quay_stays/records/${record.id}/history`);
  else if (kind === 'choices')
    await told(
      'POST',
      '/api/forms/quay_check_in/choices',
      JSON.stringify({ field: 'berth', values: { pontoon: 1 + (berth % 50) } }),
    );
  else await told('GET', '/api/tables/quay_stays/records?limit=50');
}

/** Opens a stream of what is saved; its answers are read and thrown away. */
const listen = (port: number, cookie: string, path: string): Promise<IncomingMessage> =>
  new Promise((resolve, reject) => {
    get({ port, host: '127.0.0.1', path, headers: { cookie }, agent: false }, (answer) => {
      if (answer.statusCode !== 200) return reject(new Error(`${path}: ${answer.statusCode}`));
      answer.on('data', () => undefined);
      answer.on('error', () => undefined);
      resolve(answer);
    }).on('error', reject);
  });

/** Runs all clients for so many seconds; gives the times of every request by kind, in ms. */
async function run(port: number, headers: string, saved: Saved[], seconds: number): Promise<Map<Kind, number[]>> {
  const times = new Map<Kind, number[]>(MIX.map((kind) => [kind, []]));
  const end = performance.now() + seconds * 1_000;
  const work = async (): Promise<void> => {
    const client = new Client(port, headers);
    while (performance.now() < end) {
      const kind = pickOf(MIX) ?? 'save';
      const begun = performance.now();
      await once(client, kind, saved);
      times.get(kind)?.push(performance.now() - begun);
    }
    client.close();
  };
  await Promise.all(Array.from({ length: CLIENTS }, work));
  return times;
}

const at = (times: readonly number[], share: number): number =>
  [...times].sort((a, b) => a - b)[Math.floor(times.length * share)] ?? Number.NaN;

const office = await openBenchOffice();
await fillBerths(office.databases, 50, BERTHS);
const server = startServer(office.ownerUrl);
let failed = false;
try {
  const port = await portOf(server);
  const sessions: string[] = [];
  // One after the other: several tries of one account at once are taken for guessing.
  while (sessions.length < SESSIONS) sessions.push(await signIn(port, 'harbourmaster', 'bench-password'));
  const headers = sessions[0] ?? '';
  const saved: Saved[] = [];
  await run(port, headers, saved, WARM_SECONDS);
  const streams = await Promise.all(
    Array.from({ length: STREAMS }, (_none, n) => {
      const cookie = /cookie: (.*)\r/.exec(sessions[n % SESSIONS] ?? '')?.[1] ?? '';
      const record = saved[n % saved.length];
      return listen(port, cookie, `/api/tables/quay_stays/records/${record?.id}/events?version=${record?.version}`);
    }),
  );
  const before = memoryOf(server.pid ?? 0);
  const times = await run(port, headers, saved, SECONDS);
  const after = memoryOf(server.pid ?? 0);
  for (const stream of streams) stream.destroy();
  process.stdout.write(`${STREAMS} streams, ${CLIENTS} clients, ${SECONDS} s\n`);
  for (const [kind, all] of times) {
    const p95 = at(all, 0.95);
    failed ||= p95 > AIM_MS;
    process.stdout.write(
      `${kind.padEnd(8)} ${(all.length / SECONDS).toFixed(0).padStart(4)} a second, half within ${at(all, 0.5).toFixed(0)} ms, 95 of 100 within ${p95.toFixed(0)} ms (aim ${AIM_MS}), slowest ${Math.max(...all).toFixed(0)} ms\n`,
    );
  }
  process.stdout.write(`memory of the server ${before.toFixed(0)} MB before, ${after.toFixed(0)} MB after\n`);
} finally {
  await stopServer(server);
  await office.close();
}
process.exit(failed ? 1 : 0);
