import { connect, disconnect, migrate } from '@fiche/server/database/index';
import { isSeeded, seed, seedEmpty } from './seed.ts';

// Seeds the database of DATABASE_URL, once; with --empty only accounts and an empty cabinet.
const url = process.env.DATABASE_URL ?? '';
const empty = process.argv.includes('--empty');
const databases = connect(url);
try {
  await migrate(databases.owner, url);
  if (!(await isSeeded(databases.owner))) {
    const begun = performance.now();
    if (!empty) process.stdout.write('Filling the sample cabinet, once…\n');
    await (empty ? seedEmpty : seed)(databases.owner);
    if (!empty) process.stdout.write(`Filled in ${((performance.now() - begun) / 1000).toFixed(0)} s\n`);
  }
} catch (error) {
  // What the database said, without the statement.
  process.stderr.write(
    `The database cannot be used: ${(error as Error).message.split(' - ').at(-1)}. Check that PostgreSQL runs and DATABASE_URL is right.\n`,
  );
  process.exitCode = 1;
} finally {
  await disconnect(databases);
}
