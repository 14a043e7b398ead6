// A server of its own process, as it is in use.
import { spawn } from 'node:child_process';
import { root } from '../install.mjs';

/**
 * Starts a server and waits until it says that it is open. `home` is the folder of a checkout. Gives its process, its address
 * and, for an office without an administrator, the one-time token of its first link.
 */
export async function startServer({ env, home = root, wantsLink = false }) {
  const child = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
    cwd: home,
    env: { ...process.env, HOST: '127.0.0.1', FICHE_SAMPLE: '0', LOG_LEVEL: 'silent', ...env },
    stdio: ['ignore', 'pipe', env.LOG_LEVEL ? 'inherit' : 'ignore'],
  });
  return new Promise((resolve, reject) => {
    let said = '';
    child.stdout.on('data', (chunk) => {
      said += chunk;
      const link = /welcome#(\S+)/.exec(said)?.[1];
      const url = /Fiche is open at (\S+)/.exec(said)?.[1];
      if (url && (link || !wantsLink)) resolve({ child, url, link });
    });
    child.on('exit', (code, signal) => reject(new Error(`The server ended while it started (${signal ?? code})`)));
  });
}

/** Waits until a process has ended. */
export const ended = (child) =>
  child.exitCode !== null || child.signalCode !== null
    ? Promise.resolve()
    : new Promise((resolve) => child.on('exit', resolve));
