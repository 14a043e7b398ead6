// Every test: types, lint, core, server on real PostgreSQL, and the interface in Chromium.
import { spawn } from 'node:child_process';
import { closeSync, mkdirSync, mkdtempSync, openSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureDatabase, startCluster } from './cluster.mjs';
import { chromium, giveUp, installPackages, root } from './install.mjs';
import { serveEmpty, serveSample } from './serve.mjs';

installPackages();
const browser = chromium();
const reports = mkdtempSync(join(tmpdir(), 'fiche-reports-'));
/** One for the tests of the server, whose seals wait for every transaction of theirs, and one for the offices of the browser. */
const clusters = [];
let office;
let empty;
let passed = 0;
let failed = 0;
/** What failed, for the last lines: who reads only those knows where to look. */
const failures = [];

const heading = (name) => process.stdout.write(`\n── ${name}\n`);
/** Begins a command, its output shown as it comes, or kept in the file `log`. Gives whether it ended well, as a promise. */
const begin = (args, { env = {}, cwd = root, log } = {}) => {
  const to = log === undefined ? 'inherit' : openSync(log, 'w');
  const child = spawn(process.execPath, args, { cwd, env: { ...process.env, ...env }, stdio: ['ignore', to, to] });
  if (to !== 'inherit') closeSync(to);
  return new Promise((resolve) => child.on('exit', (code) => resolve(code === 0)));
};
const run = (name, args, more) => {
  heading(name);
  return begin(args, more);
};
const count = (name, ok) => {
  if (ok) passed += 1;
  else {
    failed += 1;
    failures.push(name);
  }
};
/** Adds up a report; a runner that failed without naming a test counts as one failure. */
const add = (name, file, ok, read) => {
  try {
    const { good, bad } = read(JSON.parse(readFileSync(file, 'utf8')));
    passed += good;
    failures.push(...bad);
    failed += bad.length;
    if (!ok && bad.length === 0) count(name, false);
  } catch {
    count(name, false);
  }
};
/**
 * Writes a language of the screens that is English in brackets, so that a text without them was said past the catalogues. Gives its
 * folder.
 */
const bracketed = (folder) => {
  const texts = JSON.parse(readFileSync(`${root}languages/en.json`, 'utf8'));
  mkdirSync(folder);
  const said = Object.entries(texts).map(([key, text]) => [key, `⟦${text}⟧`]);
  writeFileSync(join(folder, 'eo.json'), JSON.stringify(Object.fromEntries(said)));
  return folder;
};
const cleanUp = async () => {
  await empty?.stop();
  await office?.stop();
  for (const cluster of clusters) cluster.stop();
  rmSync(reports, { recursive: true, force: true });
};
for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, () => {
    for (const cluster of clusters) cluster.stop();
    process.exit(130);
  });

/** Begins the tests of some projects of Vitest; what they came to is added up under `name` once they end. */
const vitest = (name, projects, env, log) => {
  const report = join(reports, `${name}.json`);
  return begin(
    [
      `${root}node_modules/vitest/vitest.mjs`,
      'run',
      ...projects.map((project) => `--project=${project}`),
      '--reporter=default',
      '--reporter=json',
      `--outputFile=${report}`,
    ],
    { env, log },
  ).then((ok) =>
    add(name, report, ok, ({ numPassedTests, testResults }) => ({
      good: numPassedTests,
      bad: testResults.flatMap((file) =>
        file.assertionResults.flatMap((one) =>
          one.status === 'failed' ? `${file.name.slice(root.length)}: ${one.fullName}` : [],
        ),
      ),
    })),
  );
};
/** The names of the tests of a browser report that did not pass at once. */
const failedIn = ({ title, specs = [], suites = [] }) => [
  ...specs
    .filter((spec) => !spec.ok || spec.tests.some((one) => one.status === 'flaky'))
    .map((spec) => `${title}: ${spec.title}`),
  ...suites.flatMap(failedIn),
];

try {
  count('types', await run('types', [`${root}node_modules/typescript/bin/tsc`, '-p', 'tsconfig.json']));
  count('lint', await run('lint', [`${root}node_modules/@biomejs/biome/bin/biome`, 'check', '.']));
  const cluster = await startCluster({ throwaway: true });
  clusters.push(cluster);
  const env = { FICHE_TEST_CLUSTER: cluster.url(), FICHE_TEST_OWNER: ensureDatabase(cluster, 'first') };
  heading('core and server');
  await vitest('core and server', ['core', 'server'], env);

  // What runs one test after the other leaves a core to what follows; it is shown when it has ended.
  const log = join(reports, 'alone.log');
  const alone = vitest('server, alone', ['server, alone'], env, log);
  process.env.FICHE_LANGUAGES = bracketed(join(reports, 'languages'));
  // A database of its own is killed under load, which mostly waits, while the office for the browser is made.
  const killed = run('killed under load', ['scripts/torture.mjs', '--short']);
  const offices = await startCluster({ throwaway: true });
  clusters.push(offices);
  office = await serveSample(offices, 'office', 2);
  empty = await serveEmpty(offices, 'empty');
  count('killed under load', await killed);
  // Several servers, a pooler, TLS, a standby that takes over.
  count('several servers', await run('several servers', ['scripts/servers/main.mjs', '--short']));
  await alone;
  heading('server, alone');
  process.stdout.write(readFileSync(log));

  const e2e = join(reports, 'e2e.json');
  const e2eOk = await run('browser', [`${root}node_modules/@playwright/test/cli.js`, 'test'], {
    env: {
      FICHE_URL: office.urls.join(' '),
      FICHE_WELCOME: empty.welcome,
      FICHE_CHROMIUM: browser,
      FICHE_E2E_REPORT: e2e,
      FICHE_E2E_OUTPUT: `${root}test-results`,
    },
    cwd: `${root}e2e`,
  });
  add('browser', e2e, e2eOk, ({ stats, suites }) => ({ good: stats.expected, bad: suites.flatMap(failedIn) }));
} catch (error) {
  await cleanUp();
  giveUp(error.message);
}
await cleanUp();
for (const name of failures) process.stdout.write(`Failed: ${name}\n`);
process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
process.exit(failed === 0 ? 0 : 1);
