// Measures what docs/ARCHITECTURE.md promises, on a database of its own that syncs to disk: the ratios, all of them or those
// that are named (`npm run bench -- capture`), with `--grown` an office after a year against a small one, or with `load` how long the answers take under a mixed load.
import { spawnSync } from 'node:child_process';
import { ensureDatabase, startCluster } from './cluster.mjs';
import { giveUp, installPackages, root } from './install.mjs';

installPackages();
const named = process.argv.slice(2);
const load = named[0] === 'load';
/** A mixed load of the office, or with `pages` one of a public page. */
const grown = named.includes('--grown');
const file = grown
  ? 'bench/grown.ts'
  : load
    ? named[1] === 'pages'
      ? 'bench/publicLoad.ts'
      : 'bench/load.ts'
    : 'bench/main.ts';
try {
  const cluster = await startCluster({ throwaway: true, synced: true });
  try {
    const owner = ensureDatabase(cluster, 'first');
    const env = {
      ...process.env,
      FICHE_BENCH_CLUSTER: cluster.url(),
      FICHE_BENCH_OWNER: owner,
      FICHE_BENCH_BIN: cluster.bin,
    };
    process.exitCode =
      spawnSync(process.execPath, ['--import', 'tsx', file, ...(load ? [] : named)], {
        cwd: root,
        env,
        stdio: ['ignore', 'inherit', 'inherit'],
      }).status ?? 1;
  } finally {
    cluster.stop();
  }
} catch (error) {
  giveUp(error.message);
}
