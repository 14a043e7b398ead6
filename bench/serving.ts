import { type ChildProcess, spawn } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';

/** Starts the whole server, as in use, over a database: one process a core. */
export const startServer = (ownerUrl: string): ChildProcess =>
  spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
    env: { ...process.env, DATABASE_URL: ownerUrl, PORT: '0', HOST: '127.0.0.1' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });

export const portOf = (server: ChildProcess): Promise<number> =>
  new Promise((resolve, reject) => {
    let said = '';
    server.stdout?.on('data', (chunk) => {
      said += chunk;
      const found = /Fiche is open at \S+:(\d+)/.exec(said);
      if (found) resolve(Number(found[1]));
    });
    server.once('exit', () => reject(new Error('The server ended')));
  });

export async function stopServer(server: ChildProcess): Promise<void> {
  if (server.exitCode !== null) return;
  server.kill('SIGTERM');
  await new Promise((resolve) => server.once('exit', resolve));
}

const TICK_MS = 10;
const PAGE_BYTES = 4_096;

interface Process {
  readonly pid: number;
  readonly of: 'server' | 'database';
  /** User and system time so far, in ms. */
  readonly used: number;
  /** Memory that is resident, in bytes. */
  readonly resident: number;
}

/** The processes of a server, its own and those it started, and of every PostgreSQL on this machine: proc(5). */
function processesOf(serverPid: number): Process[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .flatMap((name): Process[] => {
      try {
        const stat = readFileSync(`/proc/${name}/stat`, 'utf8');
        const command = stat.slice(stat.indexOf('(') + 1, stat.lastIndexOf(')'));
        const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
        const pid = Number(name);
        const mine = pid === serverPid || Number(fields[1]) === serverPid;
        if (!mine && command !== 'postgres') return [];
        return [
          {
            pid,
            of: mine ? 'server' : 'database',
            used: (Number(fields[11]) + Number(fields[12])) * TICK_MS,
            resident: Number(fields[21]) * PAGE_BYTES,
          },
        ];
      } catch {
        // It has ended meanwhile.
        return [];
      }
    });
}

/** Begins to count processor time, user and system; the returned function gives what was used since, in ms. */
export function processorTime(serverPid: number): () => Record<'server' | 'database', number> {
  const before = new Map(processesOf(serverPid).map((one) => [one.pid, one.used]));
  return () => {
    const used = { server: 0, database: 0 };
    for (const one of processesOf(serverPid)) used[one.of] += one.used - (before.get(one.pid) ?? 0);
    return used;
  };
}

/** The memory of a server's processes together, in MB. */
export const memoryOf = (serverPid: number): number =>
  processesOf(serverPid)
    .filter((one) => one.of === 'server')
    .reduce((sum, one) => sum + one.resident, 0) /
  1024 /
  1024;
