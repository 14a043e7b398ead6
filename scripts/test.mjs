// Every test: types, lint, core, server on real PostgreSQL, and the interface in Chromium.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureDatabase, startCluster } from './cluster.mjs';
import { chromium, giveUp, installPackages, root } from './install.mjs';
import { serveEmpty, serveSample } from './serve.mjs';

installPackages();
const browser = chromium();
const reports = mkdtempSync(join(tmpdir(), 'fiche-reports-'));
let cluster;
let office;
let empty;
let passed = 0;
let failed = 0;

const run = (name, args, env = {}, cwd = root) => {
  process.stdout.write(`\n── ${name}\n`);
  return (
    spawnSync(process.execPath, args, { cwd, env: { ...process.env, ...env }, stdio: ['ignore', 'inherit', 'inherit'] })
      .status === 0
  );
};
const count = (ok) => {
  if (ok) passed += 1;
  else failed += 1;
};
/** Adds up a report; a runner that failed without naming a test counts as one failure. */
const add = (file, ok, read) => {
  try {
    const [good, bad] = read(JSON.parse(readFileSync(file, 'utf8')));
    passed += good;
    failed += bad + (!ok && bad === 0 ? 1 : 0);
  } catch {
    failed += 1;
  }
};
const cleanUp = async () => {
  await empty?.stop();
  await office?.stop();
  cluster?.stop();
  rmSync(reports, { recursive: true, force: true });
};
for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, () => {
    cluster?.stop();
    process.exit(130);
  });

try {
  count(run('types', [`${root}node_modules/typescript/bin/tsc`, '-p', 'tsconfig.json']));
  count(run('lint', [`${root}node_modules/@biomejs/biome/bin/biome`, 'check', '.']));
  cluster = await startCluster({ throwaway: true });
  const owner = ensureDatabase(cluster, 'first');

  const unit = join(reports, 'unit.json');
  const unitOk = run(
    'core and server',
    [`${root}node_modules/vitest/vitest.mjs`, 'run', '--reporter=default', '--reporter=json', `--outputFile=${unit}`],
    { FICHE_TEST_CLUSTER: cluster.url(), FICHE_TEST_OWNER: owner },
  );
  add(unit, unitOk, (report) => [report.numPassedTests, report.numFailedTests]);

  // Every test of the tamperings has run by now: here server and database are killed under load.
  count(run('killed under load', ['scripts/torture.mjs', '2', '--without-tampering']));

  office = await serveSample(cluster, 'office', 2);
  empty = await serveEmpty(cluster, 'empty');
  const e2e = join(reports, 'e2e.json');
  const e2eOk = run(
    'browser',
    [`${root}node_modules/@playwright/test/cli.js`, 'test'],
    {
      FICHE_URL: office.urls.join(' '),
      FICHE_WELCOME: empty.welcome,
      FICHE_CHROMIUM: browser,
      FICHE_E2E_REPORT: e2e,
      FICHE_E2E_OUTPUT: `${root}test-results`,
    },
    `${root}e2e`,
  );
  add(e2e, e2eOk, (report) => [report.stats.expected, report.stats.unexpected + report.stats.flaky]);
} catch (error) {
  await cleanUp();
  giveUp(error.message);
}
await cleanUp();
process.stdout.write(`\n${passed} passed, ${failed} failed\n`);
process.exit(failed === 0 ? 0 : 1);
