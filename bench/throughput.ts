import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Client } from './client.ts';

/** Transactions a second of statements, as the application's role would be charged for them; `first` sets their variables. */
export function pgbench(
  ownerUrl: string,
  clients: number,
  seconds: number,
  first: string,
  statements: readonly string[],
): number {
  const script = join(tmpdir(), `fiche-bench-${process.pid}.sql`);
  writeFileSync(script, [first, ...statements.map((one) => one.replace(/\s*\n\s*/g, ' '))].join('\n'));
  const url = new URL(ownerUrl);
  const options = ['-n', '-M', 'prepared', '-c', String(clients), '-j', '2', '-T', String(seconds), '-f', script];
  const place = ['-h', url.hostname, '-p', url.port, '-U', url.username, url.pathname.slice(1)];
  const done = spawnSync(join(process.env.FICHE_BENCH_BIN ?? '', 'pgbench'), [...options, ...place], {
    encoding: 'utf8',
    env: { ...process.env, PGPASSWORD: decodeURIComponent(url.password) },
  });
  const tps = /tps = ([\d.]+)/.exec(done.stdout)?.[1];
  if (!tps) throw new Error(`pgbench failed: ${done.stderr}`);
  return Number(tps);
}

/** Saves a second over so many connections, each with one request under way; `bodyOf` gives what each of them sends. */
export async function overHttp(
  port: number,
  headers: string,
  clients: number,
  seconds: number,
  form: string,
  bodyOf: () => string,
): Promise<number> {
  const end = performance.now() + seconds * 1_000;
  let saves = 0;
  const work = async (): Promise<void> => {
    const client = new Client(port, headers);
    while (performance.now() < end) {
      const key = `idempotency-key: ${randomUUID()}\r\n`;
      const answer = await client.send('POST', `/api/forms/${form}/entries`, bodyOf(), key);
      if (answer.status !== 200) throw new Error(`${answer.status}: ${answer.body}`);
      saves += 1;
    }
    client.close();
  };
  await Promise.all(Array.from({ length: clients }, work));
  return saves / seconds;
}
