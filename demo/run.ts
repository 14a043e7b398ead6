import { connect, disconnect, migrate } from '@fiche/server/database/index';
import { isSeeded, seed } from './seed.ts';

// Seeds the database of DATABASE_URL with the sample office, once.
const url = process.env.DATABASE_URL ?? '';
const databases = connect(url);
try {
  await migrate(databases.owner, url);
  if (!(await isSeeded(databases.owner))) {
    const begun = performance.now();
    process.stdout.write('Filling the sample cabinet, once…\n');
    await seed(databases.owner);
    process.stdout.write(`Filled in ${((performance.now() - begun) / 1000).toFixed(0)} s\n`);
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
