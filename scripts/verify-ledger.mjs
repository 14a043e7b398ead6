// Verifies the ledger of DATABASE_URL, or of the application that `npm start` keeps (with --empty, of the empty office).
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { checkoutName, ensureDatabase, startCluster, stateFolder } from './cluster.mjs';
import { giveUp, installPackages, root } from './install.mjs';

installPackages();
const empty = process.argv.includes('--empty');
let cluster;
let url = process.env.DATABASE_URL;
if (!url) {
  const folder = stateFolder(checkoutName());
  if (!existsSync(join(folder, 'data')))
    giveUp('There is no ledger here yet: run npm start first, or set DATABASE_URL to the database to verify.');
  try {
    cluster = await startCluster({ folder, borrow: true });
    url = ensureDatabase(cluster, empty ? 'fiche_empty' : 'fiche');
  } catch (error) {
    giveUp(error.message);
  }
}
// Ctrl+C reaches the verification first, which says that it was cancelled.
process.on('SIGINT', () => undefined);
const done = spawnSync(
  process.execPath,
  ['--import', 'tsx', 'server/src/verifyLedger.ts', ...process.argv.slice(2).filter((one) => one !== '--empty')],
  {
    cwd: root,
    env: { ...process.env, DATABASE_URL: url },
    stdio: 'inherit',
  },
);
cluster?.stop();
process.exitCode = done.status ?? 1;
