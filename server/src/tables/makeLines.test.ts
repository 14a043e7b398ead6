import type { MadeLines } from '@fiche/core/api';
import type { TableDefinition } from '@fiche/core/tables';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;

beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
});
afterAll(() => office.close());

const tablesNow = async (): Promise<readonly TableDefinition[]> =>
  (await builder.call('GET', '/api/cabinets/quay')).body.tables;

const fieldsOf = async (table: string): Promise<Record<string, string>> => {
  const fields = (await tablesNow()).find((one) => one.id === table)?.fields ?? [];
  return Object.fromEntries(
    fields.map((field) => [field.id, field.calculation ? `${field.type} = ${field.calculation}` : field.type]),
  );
};

test('lines of a table: a table with quantity × price, a link back, and a total beside the record', async () => {
  const { status, body } = await builder.call('POST', '/api/tables/quay_stays/lines', { label: 'Repairs' });
  expect(status).toBe(200);
  const made = body as unknown as MadeLines;
  expect(made).toMatchObject({ link: 'stays', total: 'repairs_total', amount: 'amount' });
  expect(made.lines).toMatchObject({ id: 'quay_repairs', label: 'Repairs', title: '{item}' });
  expect(await fieldsOf('quay_repairs')).toEqual({
    stays: 'link',
    item: 'text',
    quantity: 'decimal',
    price: 'amount',
    amount: 'amount = quantity * price',
  });
  expect(await fieldsOf('quay_stays')).toMatchObject({ repairs_total: 'amount' });
});

test('is refused whole when the total has no place: no half of it is left', async () => {
  await builder.call('POST', '/api/tables/quay_stays/fields', { field: { label: 'Meals total', type: 'text' } });
  const { status, body } = await builder.call('POST', '/api/tables/quay_stays/lines', { label: 'Meals' });
  expect(status).toBe(422);
  expect(JSON.stringify(body)).toContain('Meals total');
  expect((await tablesNow()).map((one) => one.id)).not.toContain('quay_meals');
});

test('a clerk cannot make lines', async () => {
  const clerk = await office.signIn('quayclerk');
  expect((await clerk.call('POST', '/api/tables/quay_stays/lines', { label: 'Fines' })).status).toBe(403);
});
