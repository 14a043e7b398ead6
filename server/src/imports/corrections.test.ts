import { afterAll, beforeAll, expect, test } from 'vitest';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { forgetParts } from './store.ts';

let office: TestOffice;
let builder: Client;
let id: number;

const plan = (decimal = '.') => ({
  reading: { kind: 'csv' },
  into: { kind: 'table', table: 'quay_vessels' },
  columns: ['registration', 'name', 'length'].map((field, at) => ({
    at,
    name: field,
    to: { kind: 'field', field },
    decimal,
  })),
});
const base = () => `/api/cabinets/quay/imports/${id}`;
const check = async (how: object = plan()): Promise<Record<string, number>> => {
  const { body } = await builder.call('POST', `${base()}/check`, { plan: how });
  await office.services.tasks.idle();
  return (await builder.call('GET', `/api/cabinets/quay/tasks/${body.id}`)).body.outcome;
};
const badRows = async () => (await builder.call('GET', `${base()}/bad-rows`)).body.rows;
const correct = (number: number, cells: readonly string[], who = builder) =>
  who.call('POST', `${base()}/corrections`, { rows: [{ number, cells }] });

beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  const rows = 'registration,name,length\nGS-0801,Auk,9\nGS-0802,Tern,ten\nGS-0803,Skua,long\n';
  id = (await builder.send('/api/cabinets/quay/imports?file=vessels.csv', rows)).body.id;
});
afterAll(() => office.close());

test('a row is corrected in place: checked by itself, read by the next check, and imported', async () => {
  expect(await check()).toMatchObject({ add: 1, bad: 2 });
  const still = await correct(3, ['GS-0802', 'Tern', 'eleven']);
  expect(still.body.rows).toEqual([{ number: 3, problems: [expect.objectContaining({ column: 'length' })] }]);
  expect((await correct(3, ['GS-0802', 'Tern', '11'])).body.rows).toEqual([{ number: 3, problems: [] }]);
  expect(await check()).toMatchObject({ add: 2, bad: 1 });
  expect(await badRows()).toMatchObject([{ number: 4 }]);

  // What only all rows together show is found by the check of the whole file.
  expect((await correct(4, ['GS-0801', 'Skua', '7'])).body.rows[0].problems).toEqual([]);
  await builder.call('PATCH', '/api/tables/quay_vessels/fields/registration', { unique: true });
  await office.services.tasks.idle();
  expect(await check()).toMatchObject({ add: 2, bad: 1 });
  expect((await badRows())[0].cells).toEqual(['GS-0801', 'Skua', '7']);
  await correct(4, ['GS-0803', 'Skua', '7']);
  expect(await check()).toMatchObject({ add: 3, bad: 0 });
});

test('only a row that was found bad can be corrected, by who may import it, with text that a cell can hold', async () => {
  const other = await correct(2, ['GS-0801', 'Auk', '9']);
  expect(other.status).toBe(422);
  expect(JSON.stringify(other.body)).toContain('Row 2 is not among the rows to correct.');
  expect((await correct(4, ['GS-0803', 'Skua\u0000', '7'])).status).toBe(422);
  const auditor = await office.signIn('auditor');
  expect((await correct(4, ['GS-0803', 'Skua', '7'], auditor)).status).toBe(403);
});

test('corrections are kept under another plan, and forgotten when the file is read in another way', async () => {
  expect(await check({ ...plan(), reason: 'Survey of 2026' })).toMatchObject({ add: 3, bad: 0 });
  expect(await check({ ...plan(), reading: { kind: 'csv', encoding: 'windows-1252' } })).toMatchObject({ bad: 2 });
});

test('after the import nothing can be corrected; a week later nothing of the file is left', async () => {
  await correct(3, ['GS-0802', 'Tern', '11']);
  await check({ ...plan(), reading: { kind: 'csv', encoding: 'windows-1252' } });
  await builder.call('POST', `${base()}/run`, { rows: 'good' });
  await office.services.tasks.idle();
  const late = await correct(4, ['GS-0803', 'Skua', '7']);
  expect(late.status).toBe(409);
  const { owner } = office.database.databases;
  await owner.raw(`UPDATE fiche.import SET at = at - interval '8 days'`);
  await forgetParts(owner);
  const { rows } = await owner.raw(
    'SELECT (SELECT count(*) FROM fiche.import_bad_row) + (SELECT count(*) FROM fiche.import_correction) AS n',
  );
  expect(rows[0].n).toBe(0);
});
