import { connect, disconnect } from './database/index.ts';
import { verifyLedger } from './history/index.ts';

// The command behind `npm run verify-ledger`: says what was found, and ends with 1 when something does not fit.
const url = process.env.DATABASE_URL ?? '';
const [knownSeal] = process.argv.slice(2);
if (knownSeal !== undefined && !/^[0-9a-f]{64}$/i.test(knownSeal)) {
  process.stderr.write('A seal has 64 hexadecimal digits: give one that an earlier run printed, or none.\n');
  process.exit(2);
}
// As the owner: the command needs no server beside it, and only reads.
const databases = connect(url, { app: 1, owner: 1 });
const found = await verifyLedger(databases.owner, knownSeal);
await disconnect(databases);

const n = (count: number): string => count.toLocaleString('en-GB');
if (found.misfit) {
  const { what, line, seal, place, record } = found.misfit;
  const where = [
    line === null ? '' : `line ${line}`,
    seal === null ? '' : `seal ${seal}`,
    place === null ? '' : `${place}, record ${record}`,
  ].filter((part) => part !== '');
  process.stdout.write(`The ledger does not fit: ${where.join(', ') || 'its seals'}: ${what}.\n`);
  process.exitCode = 1;
} else {
  process.stdout.write(
    `The ledger fits: ${n(found.lines)} lines of ${n(found.records)} records, ${n(found.seals)} seals, ${n(found.unsealed)} lines not sealed yet.\n`,
  );
  if (found.newestSeal) process.stdout.write(`Newest seal, to be noted elsewhere: ${found.newestSeal}\n`);
}
