// Keeps the log of a server from moment to moment, so that a backup can be brought to any of them.
import { spawn } from 'node:child_process';
import { createReadStream, mkdirSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { pack, succeeded } from './files.mjs';
import { connectionOf } from './source.mjs';

/** The name under which the server keeps the log until it was received. */
export const SLOT = 'fiche_backup';
/** How often, in ms, finished segments are packed, and the one that is being written is copied. */
const EVERY = 1_000;
const COPY_EVERY = 15_000;

const isSegment = (name) => /^[0-9A-F]{24}$/.test(name) || name.endsWith('.history');

/**
 * Receives the log of a server into `log` under the folder of backups until `signal` is aborted: finished segments at once, and
 * every 15 s a copy of the one that is being written.
 */
export async function followLog({ bin, replication }, { to, key, signal }) {
  const log = join(to, 'log');
  const incoming = join(log, 'incoming');
  mkdirSync(incoming, { recursive: true, mode: 0o700 });
  const { args, env } = connectionOf(replication);
  const program = `${bin}/pg_receivewal`;
  const create = spawn(program, ['--create-slot', '--if-not-exists', '--slot', SLOT, ...args], {
    env,
    cwd: '/',
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  await succeeded(create, program);
  const child = spawn(program, ['-D', incoming, '--slot', SLOT, '--synchronous', ...args], {
    env,
    cwd: '/',
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  let running = true;
  const over = succeeded(child, program).finally(() => {
    running = false;
  });
  // What it failed of is told once what has come is packed.
  over.catch(() => undefined);
  signal.addEventListener('abort', () => child.kill('SIGINT'));
  let copied = 0;
  while (running) {
    await packFinished(incoming, log, key);
    if (Date.now() - copied > COPY_EVERY) {
      await copyUnfinished(incoming, log, key);
      copied = Date.now();
    }
    await Promise.race([over.catch(() => undefined), new Promise((resolve) => setTimeout(resolve, EVERY))]);
  }
  await packFinished(incoming, log, key);
  await copyUnfinished(incoming, log, key);
  await over;
}

/** Packs the segments that are finished, and drops the copies that were made of them while they were not. */
async function packFinished(incoming, log, key) {
  for (const name of readdirSync(incoming).filter(isSegment).sort()) {
    await pack(createReadStream(join(incoming, name)), log, name, key);
    rmSync(join(incoming, name));
    for (const copy of readdirSync(log)) if (copy.startsWith(`${name}.partial.`)) rmSync(join(log, copy));
  }
}

/** Packs a copy of the segment that is being written; one that is finished meanwhile has another name, and is packed as such. */
async function copyUnfinished(incoming, log, key) {
  for (const name of readdirSync(incoming).filter((one) => one.endsWith('.partial')))
    await pack(createReadStream(join(incoming, name)), log, name, key).catch((error) => {
      if (error.code !== 'ENOENT') throw error;
    });
}
