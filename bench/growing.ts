import { randomBytes } from 'node:crypto';
import { connect, disconnect, migrate } from '@fiche/server/database/index';
import { A_YEAR, growOffice, MADE, rowsOf } from './grow.ts';
import { fillOffice } from './office.ts';

// The command behind `npm run grow`: an office as a year of work leaves it, in an empty database. `--small` makes a hundredth of it.
const url = process.env.DATABASE_URL ?? '';
const part = process.argv.includes('--small') ? 100 : 1;
const begun = performance.now();
const say = (what: string): void => {
  process.stdout.write(`${((performance.now() - begun) / 1_000).toFixed(0).padStart(5)} s  ${what}\n`);
};
const password = process.env.FICHE_GROW_PASSWORD ?? randomBytes(9).toString('base64url');
const databases = connect(url, { app: 4, owner: 4 });
try {
  await migrate(databases.owner, url);
  if ((await rowsOf(databases.owner, 'fiche.cabinet')) > 0)
    throw new Error('This database has an office already: choose an empty one.');
  await fillOffice(databases.owner, password, MADE);
  await growOffice(
    databases,
    {
      ...A_YEAR,
      tables: Math.ceil(A_YEAR.tables / part),
      fields: Math.ceil(A_YEAR.fields / part),
      records: A_YEAR.records / part,
      lines: A_YEAR.lines / part,
      cabinets: part === 1 ? A_YEAR.cabinets : 2,
      accounts: Math.ceil(A_YEAR.accounts / part),
    },
    say,
  );
  say(`grown. Sign in as harbourmaster with ${password}`);
} catch (error) {
  process.stderr.write(`${(error as Error).message.split('\n').at(-1)}\n`);
  process.exitCode = 1;
}
await disconnect(databases);
