// Restores a backup that `npm run backup` took, and verifies its ledger.
import { checkoutName } from '../cluster.mjs';
import { giveUp, installPackages } from '../install.mjs';
import { optionsOf, pathOf } from './commands.mjs';
import { restoreBackup } from './restoring.mjs';

const USAGE = `Use: npm run restore -- --from FOLDER --to EMPTY [--at MOMENT] [--key FILE]
  --from FOLDER    the folder of one backup
  --to EMPTY       a folder that is empty or not there yet
  --at MOMENT      the moment to be restored, such as 2026-11-27T14:30:00+01:00; without it, as far as the log goes
  --key FILE       the age identity that the backup was encrypted for`;

const options = optionsOf(
  { from: { type: 'string' }, to: { type: 'string' }, at: { type: 'string' }, key: { type: 'string' } },
  ['from', 'to'],
  USAGE,
);
if (options.at !== undefined && Number.isNaN(Date.parse(options.at)))
  giveUp(`${options.at} is no moment: write it as 2026-11-27T14:30:00+01:00.`);
installPackages();
try {
  const to = pathOf(options.to);
  const { home, database, verdict } = await restoreBackup({
    from: pathOf(options.from),
    to,
    name: checkoutName(),
    at: options.at === undefined ? null : new Date(options.at).toISOString(),
    key: pathOf(options.key),
    keep: true,
  });
  const empty = database === 'fiche_empty' ? ' -- --empty' : '';
  process.stdout.write(
    `${verdict}\nRestored into ${home}/data. To run it from this folder: FICHE_STATE=${to} npm start${empty}\n`,
  );
} catch (error) {
  giveUp(error.message);
}
