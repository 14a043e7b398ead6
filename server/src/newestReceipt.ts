import { connect, disconnect } from './database/index.ts';
import { newestReceipt, sealLedger } from './history/index.ts';
import { Refusal } from './http/index.ts';

// Seals what can be sealed and writes the receipt for the newest seal, which `npm run backup` keeps with a backup; nothing where
// there is no seal yet.
const databases = connect(process.env.DATABASE_URL ?? '', { app: 1, owner: 1 });
try {
  await sealLedger(databases.app, '0 min');
  process.stdout.write(`${JSON.stringify(await newestReceipt(databases.owner), null, 2)}\n`);
} catch (error) {
  if (!(error instanceof Refusal)) {
    process.stderr.write(`${(error as Error).message.split('\n').at(-1)}\n`);
    process.exitCode = 1;
  }
}
await disconnect(databases);
