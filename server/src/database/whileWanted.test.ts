import { EventEmitter } from 'node:events';
import type { ServerResponse } from 'node:http';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { freshDatabase, type TestDatabase } from '../fixtures/database.ts';
import { NobodyWaits, whileWanted } from './index.ts';

let database: TestDatabase;
beforeAll(async () => {
  database = await freshDatabase();
});
afterAll(() => database.drop());

const answer = () => Object.assign(new EventEmitter(), { writableFinished: false, closed: false });
const sleepers = async (): Promise<number> => {
  const { rows } = await database.databases.owner.raw(
    "SELECT count(*)::integer AS n FROM pg_stat_activity WHERE datname = current_database() AND state = 'active' AND query LIKE 'SELECT pg_sleep(%'",
  );
  return rows[0].n;
};
const until = async (holds: () => Promise<boolean>): Promise<void> => {
  while (!(await holds())) await new Promise((resolve) => setImmediate(resolve));
};
const ask = (reply: ReturnType<typeof answer>, work = 'SELECT pg_sleep(60)') =>
  whileWanted(database.databases.pages, database.databases.health, reply as unknown as ServerResponse, (transaction) =>
    transaction.raw(work),
  );

test('a question that nobody waits for any more is cancelled in the database, and its connection is as good as before', async () => {
  const reply = answer();
  const asked = ask(reply).then(
    () => 'answered',
    (error) => error,
  );
  await until(async () => (await sleepers()) === 1);
  reply.emit('close');
  expect(await asked).toBeInstanceOf(NobodyWaits);
  expect(await sleepers()).toBe(0);
  const again = (await ask(answer(), 'SELECT 1 AS one')) as unknown as { rows: unknown[] };
  expect(again.rows).toEqual([{ one: 1 }]);
  const late = Object.assign(answer(), { closed: true });
  await expect(ask(late)).rejects.toThrow('Nobody waits');
});

test('an answer that was sent is not cancelled, and nothing can be written while somebody waits', async () => {
  const reply = Object.assign(answer(), { writableFinished: true });
  const asked = ask(reply, 'SELECT pg_sleep(0.05)');
  reply.emit('close');
  await asked;
  await expect(ask(answer(), 'DELETE FROM fiche.attempt')).rejects.toThrow('read-only');
});

test('questions of public pages take no connection of those who work here', async () => {
  const replies = Array.from({ length: 8 }, answer);
  const asked = replies.map((reply) => ask(reply).catch((error) => error));
  await until(async () => (await sleepers()) === 3);
  for (const pool of ['app', 'health'] as const)
    expect((await database.databases[pool].raw('SELECT 1 AS one')).rows).toEqual([{ one: 1 }]);
  // Those that wait for a connection are not asked at all once nobody waits for them.
  for (const reply of replies) {
    reply.closed = true;
    reply.emit('close');
  }
  await Promise.all(asked);
  expect(await sleepers()).toBe(0);
});
