import { connect, disconnect, migrate } from '@fiche/server/database/index';
import { isSeeded, seed } from './seed.ts';

// Seeds the database of DATABASE_URL, once.
const url = process.env.DATABASE_URL ?? '';
const databases = connect(url);
try {
  await migrate(databases.owner, url);
  if (!(await isSeeded(databases.owner))) {
    const begun = performance.now();
    await seed(databases.owner);
    process.stdout.write(`Seeded Gannet Sound in ${((performance.now() - begun) / 1000).toFixed(0)} s\n`);
  }
} finally {
  await disconnect(databases);
}
