// Verifies the ledger of DATABASE_URL, or of the application that `npm start` keeps.
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { checkoutName, ensureDatabase, startCluster, stateFolder } from './cluster.mjs';
import { giveUp, installPackages, root } from './install.mjs';

installPackages();
let cluster;
let url = process.env.DATABASE_URL;
if (!url) {
  const folder = stateFolder(checkoutName());
  const running = join(folder, 'data', 'postmaster.pid');
  if (!existsSync(join(folder, 'data')))
    giveUp('There is no ledger here yet: run npm start first, or set DATABASE_URL to the database to verify.');
  try {
    if (existsSync(running)) {
      const port = readFileSync(running, 'utf8').split('\n')[3];
      url = `postgres://fiche_owner:${readFileSync(join(folder, 'secret'), 'utf8')}@127.0.0.1:${port}/fiche`;
    } else {
      cluster = await startCluster({ folder });
      url = ensureDatabase(cluster, 'fiche');
    }
  } catch (error) {
    giveUp(error.message);
  }
}
const done = spawnSync(process.execPath, ['--import', 'tsx', 'server/src/verifyLedger.ts', ...process.argv.slice(2)], {
  cwd: root,
  env: { ...process.env, DATABASE_URL: url },
  stdio: 'inherit',
});
cluster?.stop();
process.exitCode = done.status ?? 1;
