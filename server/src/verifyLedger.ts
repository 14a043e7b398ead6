import { formatCount } from '@fiche/core/office';
import { connect, disconnect } from './database/index.ts';
import { verifyLedger } from './history/index.ts';

// The command behind `npm run verify-ledger`: says what was found, and ends with 1 when something does not fit.
const url = process.env.DATABASE_URL ?? '';
const [knownSeal] = process.argv.slice(2);
if (knownSeal !== undefined && !/^[0-9a-f]{64}$/i.test(knownSeal)) {
  process.stderr.write('A seal has 64 hexadecimal digits: give one that an earlier run printed, or none.\n');
  process.exit(2);
}
const n = (count: number): string => formatCount(count);
let cancelled = false;
process.on('SIGINT', () => {
  cancelled = true;
});

let told = 0;
async function progress(done: number, total: number): Promise<void> {
  if (cancelled) throw new Error('Cancelled. Nothing was changed: verification only reads.');
  if (!process.stderr.isTTY || Date.now() - told < 200) return;
  told = Date.now();
  process.stderr.write(`\r${n(done)} of ${n(total)} lines`);
}

/** The window that seals leave open, in figures. */
function windowWords(lines: number, since: string | null): string {
  if (lines === 0 || since === null) return 'All lines are sealed.';
  const minutes = Math.max(1, Math.ceil((Date.now() - Date.parse(since)) / 60_000));
  return `${n(lines)} ${lines === 1 ? 'line' : 'lines'} of the last ${n(minutes)} min ${lines === 1 ? 'is' : 'are'} not sealed yet.`;
}

// As the owner: the command needs no server beside it, and only reads.
const databases = connect(url, { app: 1, owner: 1 });
try {
  const found = await verifyLedger(databases.owner, { ...(knownSeal === undefined ? {} : { knownSeal }), progress });
  if (told > 0) process.stderr.write('\r\x1b[K');
  for (const { what, line, seal, place, record } of found.misfits) {
    const where = [
      place === null ? '' : record === null ? place : `${place}, record ${record}`,
      line === null ? '' : `line ${line}`,
      seal === null ? '' : `seal ${seal}`,
    ].filter((part) => part !== '');
    process.stdout.write(`Does not fit: ${where.join(', ') || 'the seals'}: ${what}.\n`);
  }
  if (found.misfits.length > 0) process.exitCode = 1;
  else
    process.stdout.write(
      `No tampering found: ${n(found.lines)} lines of ${n(found.records)} records, ${n(found.seals)} seals. ${windowWords(found.unsealed, found.unsealedSince)}\n`,
    );
  if (found.newestSeal) process.stdout.write(`Newest seal, to be noted elsewhere: ${found.newestSeal}\n`);
} catch (error) {
  process.stderr.write(`\n${(error as Error).message.split('\n').at(-1)}\n`);
  process.exitCode = 2;
}
await disconnect(databases);
