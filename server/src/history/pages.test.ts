import { afterAll, beforeAll, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let clerk: Client;
const CHANGES = 450;

beforeAll(async () => {
  office = await testOffice();
  clerk = await office.signIn('quayclerk');
  const actor = { name: 'quayclerk', through: { kind: 'table', label: 'Harbours' } } as const;
  for (let n = 1; n <= CHANGES; n++)
    await asActor(office.database.databases.owner, actor, (write) =>
      write.raw('UPDATE data.quay_harbours SET name = ? WHERE id = 1', [`Tern Cove ${n}`]),
    );
});
afterAll(() => office.close());

const history = (query = '') => clerk.call('GET', `/api/tables/quay_harbours/records/1/history${query}`);

test('a long history comes page by page, each change once, from the newest to the first', async () => {
  const sizes: number[] = [];
  const ids: number[] = [];
  for (let before: number | null | undefined; before !== null; ) {
    const { status, body } = await history(before === undefined ? '' : `?before=${before}`);
    expect(status).toBe(200);
    sizes.push(body.lines.length);
    ids.push(...body.lines.map((line: { id: number }) => line.id));
    before = body.before;
  }
  expect(sizes).toEqual([200, 200, CHANGES + 1 - 400]);
  expect(ids).toEqual([...new Set(ids)].toSorted((a, b) => b - a));
  const { body } = await history(`?before=${ids.at(-1)}`);
  expect(body).toEqual({ lines: [], before: null });
});

test('what is held about a record has all of its changes', async () => {
  const builder = await office.signIn('harbourmaster');
  const { body } = await builder.call('GET', '/api/tables/quay_harbours/records/1/everything');
  expect(body.lines).toHaveLength(CHANGES + 1);
  expect(body.lines.at(-1).kind).toBe('add');
});

test.each(['0', '-1', 'x', '1.5'])('a page cannot begin before %s', async (before) => {
  expect((await history(`?before=${before}`)).status).toBe(422);
});
