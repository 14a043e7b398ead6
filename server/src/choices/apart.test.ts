import { afterAll, beforeAll, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let clerk: Client;
beforeAll(async () => {
  office = await testOffice();
  clerk = await office.signIn('quayclerk');
  const actor = { name: 'quayclerk', through: { kind: 'seed', label: 'test' } } as const;
  await asActor(office.database.databases.owner, actor, (transaction) =>
    transaction.raw(
      `INSERT INTO data.quay_harbours (name) VALUES ('Skua Cove'), ('Petrel Haven');
       INSERT INTO data.quay_pontoons (letter, harbour) SELECT 'Far', id FROM data.quay_harbours WHERE name IN ('Skua Cove', 'Petrel Haven');
       INSERT INTO data.quay_vessels (name, registration) VALUES ('Razorbill', 'GS-7007'), ('Razorbill', 'GS-7900'), ('Fulmar', 'GS-7001');
       INSERT INTO data.quay_berths (number) VALUES ('N-99'), ('N-99');`,
    ),
  );
});
afterAll(() => office.close());

const choices = async (field: string, search: string, who = clerk, address = '/api/tables/quay_stays') => {
  const { body } = await who.call('POST', `${address}/choices`, { field, values: {}, search });
  return body.choices as { value: number; title: string; shown: string[] }[];
};

test('records of the same title show what tells them apart: a searched column, what they link to, their numbers', async () => {
  expect((await choices('vessel', 'razorbill')).map((one) => one.shown)).toEqual([['GS-7007'], ['GS-7900']]);
  expect((await choices('vessel', 'fulmar')).map((one) => one.shown)).toEqual([[]]);
  const far = (await choices('pontoon', 'far')).map((one) => one.shown.join());
  expect(far.sort()).toEqual(['Petrel Haven', 'Skua Cove']);
  const berths = await choices('berth', 'n-99');
  expect(berths.map((one) => one.shown)).toEqual(berths.map((one) => [`No. ${one.value}`]));
});

test('a public page says no more of a record than it showed before', async () => {
  const shown = await choices('vessel', '', office.anonymous, '/api/public/arrival');
  expect(shown.filter((one) => one.title === 'Razorbill').map((one) => one.shown)).toEqual([[], []]);
});
