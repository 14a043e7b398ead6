// Installs what a fresh machine lacks: npm packages, and Debian's packages when root.
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('..', import.meta.url));

/** Says one clear sentence and ends. */
export function giveUp(sentence) {
  process.stderr.write(`${sentence}\n`);
  process.exit(1);
}

/** What `find` finds; else installs the Debian package and looks again; else says `sentence` and ends. */
export function installed(find, debianPackage, sentence) {
  const before = find();
  if (before) return before;
  if (process.getuid?.() !== 0) giveUp(sentence);
  process.stdout.write(`Installing ${debianPackage}…\n`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const apt = (...args) => spawnSync('apt-get', args, { env, stdio: ['ignore', 'ignore', 'pipe'], encoding: 'utf8' });
  apt('update', '-q');
  apt('install', '-y', '-q', '--no-install-recommends', debianPackage);
  const after = find();
  if (!after) giveUp(sentence);
  return after;
}

/** The packages of package-lock.json, installed when they are missing or older than the lock file says. */
export function installPackages() {
  const marker = `${root}node_modules/.package-lock.json`;
  const versions = (file) =>
    Object.entries(JSON.parse(readFileSync(file, 'utf8')).packages)
      .filter(([path, one]) => path.startsWith('node_modules/') && !one.optional && !one.link)
      .map(([path, one]) => `${path}@${one.version}`);
  if (existsSync(marker)) {
    const have = new Set(versions(marker));
    if (versions(`${root}package-lock.json`).every((one) => have.has(one))) return;
  }
  process.stdout.write('Installing packages…\n');
  const done = spawnSync('npm', ['ci', '--no-fund', '--no-audit'], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  if (done.status !== 0)
    giveUp('The npm packages could not be installed: check the connection to the package registry, then try again.');
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
