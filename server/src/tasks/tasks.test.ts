import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Database, RolePools } from '../database/index.ts';
import { type TestOffice, testOffice } from '../fixtures/office.ts';
import { Tasks } from './index.ts';

let office: TestOffice;
beforeAll(async () => {
  office = await testOffice();
});
afterAll(() => office.close());

const TASK = { cabinet: 'quay', kind: 'count', label: 'Count', plan: {}, account: 'harbourmaster' };

/** Connections over which the end of a task cannot be noted so many times, as while the database is restarted. */
function awayFor(times: number, code: string): RolePools {
  const { app, owner } = office.services.databases.work;
  let left = times;
  const raw = (sql: string, values: readonly string[]) =>
    sql.startsWith('UPDATE fiche.task SET state') && left-- > 0
      ? Promise.reject(Object.assign(new Error('away'), { code }))
      : owner.raw(sql, values);
  return { app, owner: { raw } as unknown as Database };
}

test('the end of a task is noted as soon as a database that was away is back', async () => {
  const tasks = new Tasks(awayFor(2, 'ECONNREFUSED'), { count: async () => ({ counted: 3 }) });
  expect(await tasks.begin(TASK, 10_000)).toMatchObject({ state: 'done', outcome: { counted: 3 } });
});

test('an end that cannot be noted for another reason is told once, and left to whoever takes the task up', async () => {
  const tasks = new Tasks(awayFor(1, '42P01'), { count: async () => ({ counted: 3 }) });
  const troubles: string[] = [];
  tasks.onTrouble = (error) => troubles.push(error.message);
  const { id, state } = await tasks.begin(TASK, 10_000);
  expect([state, troubles]).toEqual(['failed', ['away']]);
  expect((await tasks.view(id)).message).toContain('Something failed');
});
