// Makes an office as a year of work leaves it, in a database of its own beside that of npm start, or in the empty DATABASE_URL.
//   npm run grow -- [--small]
import { spawnSync } from 'node:child_process';
import { checkoutName, ensureDatabase, startCluster, stateFolder } from './cluster.mjs';
import { giveUp, installPackages, root } from './install.mjs';

installPackages();
const folder = stateFolder(`${checkoutName()}-grown`);
let cluster;
try {
  if (!process.env.DATABASE_URL) cluster = await startCluster({ folder, hold: true });
  const url = process.env.DATABASE_URL ?? ensureDatabase(cluster, 'fiche');
  const done = spawnSync(process.execPath, ['--import', 'tsx', 'bench/growing.ts', ...process.argv.slice(2)], {
    cwd: root,
    env: { ...process.env, DATABASE_URL: url },
    stdio: 'inherit',
  });
  process.exitCode = done.status ?? 1;
  if (cluster && done.status === 0)
    process.stdout.write(`It is in ${folder}. Verify it there, or remove the folder when it is not needed any more.\n`);
} catch (error) {
  giveUp(error.message);
} finally {
  cluster?.stop();
}
