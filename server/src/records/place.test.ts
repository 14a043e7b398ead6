import { afterAll, beforeAll, expect, test } from 'vitest';
import { asSuperuser } from '../fixtures/database.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let clerk: Client;
beforeAll(async () => {
  office = await testOffice();
  clerk = await office.signIn('quayclerk');
});
afterAll(() => office.close());

const RECORDS = '/api/tables/quay_berths/records';

test('in a table of very many records a card opens without counting them; its place is told when it is asked for', async () => {
  const { body: small } = await clerk.call('GET', `${RECORDS}/2`);
  expect(small.place).toMatchObject({ position: 2, previous: 1, next: 3 });
  await asSuperuser(office.database.superUrl, "UPDATE pg_class SET reltuples = 60000 WHERE relname = 'quay_berths'");
  const { body: large } = await clerk.call('GET', `${RECORDS}/2`);
  expect(large.place).toEqual({ ...small.place, position: null, total: null });
  const { body: counted } = await clerk.call('GET', `${RECORDS}/2/place`);
  expect(counted).toEqual({ position: 2, total: small.place.total });
});
