// Backs the database up, files included: once, or its log from moment to moment.
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { giveUp, installPackages } from '../install.mjs';
import { optionsOf, pathOf } from './commands.mjs';
import { followLog } from './follow.mjs';
import { restoreBackup } from './restoring.mjs';
import { openSource } from './source.mjs';
import { noteVerified, removeOld, takeBackup } from './take.mjs';

const USAGE = `Use: npm run backup -- --to FOLDER [--key FILE] [--dump | --follow] [--verify --identity FILE]
                             [--keep N] [--empty]
  --to FOLDER      where backups are kept, each in a folder of its own
  --key FILE       age recipients for whom backups are encrypted (age-keygen makes a pair)
  --dump           the one database, to be restored into any server of this version or later; else the whole server as it is
  --follow         keeps the server’s log until Ctrl+C, so that a backup can be brought to any moment
  --verify         restores the backup into an empty folder and verifies its ledger; --identity is the key to decrypt it
  --keep N         removes all but the newest N backups of each kind, and the log that these do not need
  --empty          the office without sample data, where npm start keeps both
DATABASE_URL is the database, as its owner; without it, that of npm start. For a backup of a whole server of your own,
DATABASE_BACKUP_URL is the address of a role with REPLICATION.`;

const options = optionsOf(
  {
    to: { type: 'string' },
    key: { type: 'string' },
    identity: { type: 'string' },
    dump: { type: 'boolean', default: false },
    follow: { type: 'boolean', default: false },
    verify: { type: 'boolean', default: false },
    keep: { type: 'string' },
    empty: { type: 'boolean', default: false },
  },
  ['to'],
  USAGE,
);
if (options.keep !== undefined && !/^[1-9]\d*$/.test(options.keep))
  giveUp(`--keep ${options.keep}: give a number from 1 on.`);
installPackages();
const [to, key, identity] = [pathOf(options.to), pathOf(options.key), pathOf(options.identity)];
const megabytes = (bytes) => `${(bytes / 1e6).toFixed(1)} MB`;

/** Restores a backup into a folder that is removed again, and verifies its ledger. */
async function verify(source, { folder, id }) {
  const scratch = mkdtempSync(join(tmpdir(), 'fiche-restored-'));
  // The database’s own user has to reach what is in it.
  chmodSync(scratch, 0o711);
  try {
    const restored = await restoreBackup({ from: folder, to: join(scratch, 'restored'), key: identity });
    process.stdout.write(`Restored and verified: ${restored.verdict}\n`);
    await noteVerified(source, id);
  } finally {
    rmSync(scratch, { recursive: true, force: true });
  }
}

let source;
try {
  source = await openSource(options);
  if (!options.dump && source.replication === null)
    throw new Error(
      'To copy the whole server, set DATABASE_BACKUP_URL to the address of a role with REPLICATION; or give --dump.',
    );
  if (options.follow) {
    const gone = new AbortController();
    for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => gone.abort());
    process.stdout.write(`The log is kept in ${join(to, 'log')}, until Ctrl+C.\n`);
    await followLog(source, { to, key, signal: gone.signal });
  } else {
    const taken = await takeBackup(source, { kind: options.dump ? 'dump' : 'base', to, key });
    process.stdout.write(`Backed up into ${taken.folder}, ${megabytes(taken.bytes)}${key ? ', encrypted' : ''}.\n`);
    if (options.verify) await verify(source, taken);
    const removed = options.keep === undefined ? [] : removeOld(to, Number(options.keep));
    if (removed.length > 0) process.stdout.write(`Removed ${removed.length} older files and folders.\n`);
  }
} catch (error) {
  source?.stop();
  giveUp(error.message);
}
source.stop();
