// Installs what a fresh machine lacks: npm packages, and Debian's packages when root.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('..', import.meta.url));

/** Says one clear sentence and ends. */
export function giveUp(sentence) {
  process.stderr.write(`${sentence}\n`);
  process.exit(1);
}

/** Debian asks this program whether a service that a package brings may be started (invoke-rc.d); 101 says no. */
const POLICY = '/usr/sbin/policy-rc.d';

/** Keeps what is installed meanwhile from being started as a service of this machine. */
function withoutServices(work) {
  const own = !existsSync(POLICY);
  if (own) writeFileSync(POLICY, '#!/bin/sh\nexit 101\n', { mode: 0o755 });
  try {
    work();
  } finally {
    if (own) rmSync(POLICY);
  }
}

/** Installs a Debian package, where this account may. */
function installPackage(debianPackage) {
  if (process.getuid?.() !== 0) return;
  process.stdout.write(`Installing ${debianPackage}…\n`);
  withoutServices(() => {
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
    const apt = (...args) => spawnSync('apt-get', args, { env, stdio: ['ignore', 'ignore', 'pipe'], encoding: 'utf8' });
    apt('update', '-q');
    apt('install', '-y', '-q', '--no-install-recommends', debianPackage);
  });
}

/** What `find` finds; else installs the Debian package and looks again; else says `sentence` and ends. */
export function installed(find, debianPackage, sentence) {
  const before = find();
  if (before) return before;
  installPackage(debianPackage);
  const after = find();
  if (!after) giveUp(sentence);
  return after;
}

/** The packages of package-lock.json, installed when the lock file is not the one they were installed from. */
export function installPackages() {
  const marker = `${root}node_modules/.installed-from`;
  const lock = createHash('sha256')
    .update(readFileSync(`${root}package-lock.json`))
    .digest('hex');
  if (existsSync(marker) && readFileSync(marker, 'utf8') === lock) return;
  process.stdout.write('Installing packages…\n');
  const done = spawnSync('npm', ['ci', '--no-fund', '--no-audit'], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  if (done.status !== 0)
    giveUp('The npm packages could not be installed: check the connection to the package registry, then try again.');
  writeFileSync(marker, lock);
}

/** Debian's Chromium, for the browser tests. */
export const chromium = () =>
  installed(
    () => ['/usr/bin/chromium', '/usr/bin/chromium-browser'].find((path) => existsSync(path)),
    'chromium',
    'Chromium is missing: install it (Debian: apt-get install chromium), then try again.',
  );

/** Whether a server could listen there. */
export const portIsFree = (port, host) =>
  new Promise((resolve) => {
    const server = createServer().on('error', () => resolve(false));
    server.listen(port, host, () => server.close(() => resolve(true)));
  });
