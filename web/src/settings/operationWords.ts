import type { BackupView, OperationAnswer } from '@fiche/core/api';
import { formatMoment } from '@fiche/core/fields';
import { say, sayCount } from '@fiche/core/languages';
import { formatCount } from '@fiche/core/office';

const DAY_MS = 86_400_000;
/** After so many days without a backup the page warns. */
const MOST_DAYS = 7;

/** An estimate of how many, where the database has one. */
export const aboutWords = (count: number | null): string =>
  count === null ? say('not counted yet') : formatCount(count);

/** How a backup ended. */
export function backupWords({ state, encrypted, verifiedAt, message }: BackupView): string {
  if (state === 'running') return say('Under way, or broken off');
  if (state === 'failed') return say('Failed: {message}', { message: message ?? say('it does not say why') });
  const kept = encrypted ? say('Encrypted') : say('Not encrypted');
  return verifiedAt === null
    ? say('{kept}; not restored yet to see whether it can be', { kept })
    : say('{kept}; restored and verified {verifiedAt}', { kept, verifiedAt: formatMoment(verifiedAt) });
}

/** What whoever runs the server has to be warned of; undefined where the last backup is recent and ended well. */
export function backupProblem(backups: readonly BackupView[], now: Date): string | undefined {
  const [newest] = backups;
  const good = backups.find((one) => one.state === 'done');
  if (!newest) return say('No backup has been taken yet.');
  if (!good) return say('No backup has ended well yet.');
  const days = Math.floor((now.getTime() - Date.parse(good.endedAt ?? good.begunAt)) / DAY_MS);
  if (days > MOST_DAYS)
    return say('The last backup that ended well is {days} old.', {
      days: sayCount(days, '{count} day', '{count} days'),
    });
  return newest.state === 'failed' ? say('The last backup failed.') : undefined;
}

/** The last seal, and how much it leaves open. */
export const sealWords = ({ at, count, unsealed }: OperationAnswer['seal']): string =>
  at === null
    ? say('Nothing is sealed yet. The first seal is made within five minutes of the first change.')
    : say('Seal {count} was made {at}; {unsealed}.', {
        count: formatCount(count),
        at: formatMoment(at),
        unsealed:
          unsealed === 0
            ? say('all lines are sealed')
            : sayCount(
                unsealed,
                '{count} line since then is not sealed yet',
                '{count} lines since then are not sealed yet',
              ),
      });

const MONTH = new Intl.DateTimeFormat('en-GB', { month: 'long', year: 'numeric', timeZone: 'UTC' });

/** `2026-11` as people read it: `November 2026`. */
export const monthWords = (month: string): string => MONTH.format(new Date(`${month}-01T00:00:00Z`));

/** How a standby does; `number` is its place in the setting. */
export function standbyWords({ answers, behindSeconds }: OperationAnswer['standbys'][number], number: number): string {
  if (!answers) return say('Standby {number} does not answer: everything is read from the primary.', { number });
  if (behindSeconds === null) return say('Standby {number} answers.', { number });
  const seconds = Math.round(behindSeconds);
  return say('Standby {number} answers and is {seconds}.', {
    number,
    seconds:
      seconds === 0
        ? say('up to date')
        : say('{seconds} behind', { seconds: sayCount(seconds, '{count} second', '{count} seconds') }),
  });
}
