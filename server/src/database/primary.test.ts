import { createServer, type Server } from 'node:net';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { freshDatabase, type TestDatabase } from '../fixtures/database.ts';
import { connect, disconnect } from './connection.ts';
import { isPooled } from './pooler.ts';
import { NoPrimary, Primary } from './primary.ts';

let database: TestDatabase;
/** Accepts connections and never says a word, as a server that hangs does. */
let silent: Server;
let silentPort: number;
beforeAll(async () => {
  database = await freshDatabase();
  silent = createServer();
  await new Promise<void>((resolve) => silent.listen(0, '127.0.0.1', resolve));
  silentPort = (silent.address() as { port: number }).port;
});
afterAll(async () => {
  silent.close();
  await database.drop();
});

/** The database’s address with other hosts before its own. */
const among = (...hosts: string[]): string => {
  const { host } = new URL(database.ownerUrl);
  return database.ownerUrl.replace(`@${host}/`, `@${[...hosts, host].join(',')}/`);
};

test('of several servers the one that takes writes is found: one may be away, and another hang', async () => {
  const databases = connect(among('127.0.0.1:1', `127.0.0.1:${silentPort}`));
  try {
    const { rows } = await databases.app.raw('SELECT current_user AS who');
    expect(rows).toEqual([{ who: 'fiche_app' }]);
    await databases.owner.raw('CREATE TABLE public.written (id int)');
    const line = await databases.connectDirectly();
    await line.query('LISTEN fiche_saved');
    await line.end();
  } finally {
    await disconnect(databases);
  }
});

test('where none takes writes this is said with a code of its own, and asked again the next time', async () => {
  const away = ['postgres://me@127.0.0.1:1/fiche', 'postgres://me@127.0.0.1:2/fiche'];
  const primary = new Primary(away);
  await expect(primary.index()).rejects.toThrow(NoPrimary);
  await expect(primary.index()).rejects.toMatchObject({ code: '57P03' });
});

test('a server that answers itself is no pooler', async () => {
  expect(await isPooled(database.ownerUrl)).toBe(false);
});
