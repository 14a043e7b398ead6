import { afterAll, beforeAll, expect, test } from 'vitest';
import { freshDatabase, type TestDatabase } from '../fixtures/database.ts';
import { connect, type Databases, disconnect } from './connection.ts';
import type { Database } from './pool.ts';
import { exportPoolAt, ownerReadPool, readFromStandby } from './standbyReads.ts';

let database: TestDatabase;
beforeAll(async () => {
  database = await freshDatabase();
});
afterAll(() => database.drop());

/** The database’s connections, with standbys at these addresses. */
async function withStandbys<T>(addresses: string, work: (databases: Databases) => Promise<T>): Promise<T> {
  process.env.DATABASE_READ_URL = addresses;
  const databases = connect(database.ownerUrl);
  delete process.env.DATABASE_READ_URL;
  try {
    return await work(databases);
  } finally {
    await disconnect(databases);
  }
}

/** Another address of the test’s own server, which stands for a standby that has everything. */
const itself = (): string => {
  const { host, pathname } = new URL(database.ownerUrl);
  return `postgres://${host}${pathname}`;
};
const AWAY = 'postgres://127.0.0.1:1/fiche';
const anywhere = '0/1';
const poolOf = (databases: Databases) => (asked: Database) =>
  Promise.resolve(asked === databases.app ? 'primary' : 'standby');

test('whoever has to see nothing new, or has standbys that answer, reads there; else by the primary', async () => {
  await withStandbys(itself(), async (databases) => {
    expect(await readFromStandby(databases, anywhere, poolOf(databases))).toBe('standby');
    expect(await readFromStandby(databases, null, poolOf(databases))).toBe('primary');
    expect(await exportPoolAt(databases, anywhere)).toBe(databases.standbys[0]?.exports);
    expect(await ownerReadPool(databases)).toBe(databases.standbys[0]?.owner);
    const [{ who }] = (await databases.standbys[0]?.app.raw('SELECT current_user AS who'))?.rows ?? [];
    expect(who).toBe('fiche_app');
  });
  await withStandbys(AWAY, async (databases) => {
    expect(await readFromStandby(databases, anywhere, poolOf(databases))).toBe('primary');
    expect(await exportPoolAt(databases, anywhere)).toBe(databases.exports);
    expect(await ownerReadPool(databases)).toBe(databases.work.owner);
  });
});

test('of several standbys one that is away is left out', async () => {
  await withStandbys(
    `${AWAY.replace('/fiche', '')},${new URL(database.ownerUrl).host}${new URL(database.ownerUrl).pathname}`,
    async (databases) => {
      expect(databases.standbys).toHaveLength(2);
      const by = [];
      for (let n = 0; n < 4; n++) by.push(await readFromStandby(databases, anywhere, poolOf(databases)));
      expect(by.slice(-2)).toEqual(['standby', 'standby']);
    },
  );
});

test('what fails for the standby’s own sake is read by the primary; what would fail there, too, is told', async () => {
  await withStandbys(itself(), async (databases) => {
    const failing = (code: string) => async (asked: Database) => {
      if (asked !== databases.app) throw Object.assign(new Error('failed'), { code });
      return 'primary';
    };
    for (const code of ['40001', '57P01', '0A000', 'ECONNRESET'])
      expect(await readFromStandby(databases, anywhere, failing(code))).toBe('primary');
    let asked = 0;
    const refused = readFromStandby(databases, anywhere, async () => {
      asked++;
      throw new Error('This cannot be read');
    });
    await expect(refused).rejects.toThrow('cannot be read');
    expect(asked).toBe(1);
    await expect(readFromStandby(databases, anywhere, failing('22003'))).rejects.toThrow('failed');
  });
});
