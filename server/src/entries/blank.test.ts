import { afterAll, beforeAll, expect, test } from 'vitest';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;
let table: string;
beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  table = (await builder.call('POST', '/api/cabinets/quay/tables', { label: 'Remarks' })).body.id;
});
afterAll(() => office.close());

const key = () => ({ 'idempotency-key': crypto.randomUUID() });
const count = async (): Promise<number> =>
  (await office.services.databases.owner.raw(`SELECT count(*)::integer AS n FROM data.${table}`)).rows[0].n;

test('a record whose fields are all blank is one like any other, of a table with fields or without', async () => {
  const bare = await builder.call('POST', `/api/tables/${table}/entries`, { values: {} }, key());
  expect([bare.status, bare.body.record?.version]).toEqual([200, 1]);
  await builder.call('POST', `/api/tables/${table}/fields`, { field: { label: 'Remark', type: 'text' } });
  for (const values of [{}, { remark: null }, { remark: '' }]) {
    const { status, body } = await builder.call('POST', `/api/tables/${table}/entries`, { values }, key());
    expect([status, body.record?.values.remark ?? null], JSON.stringify(body)).toEqual([200, null]);
  }
  expect(await count()).toBe(4);
});

test('a public page asks for at least one answer', async () => {
  const form = (await builder.call('POST', '/api/cabinets/quay/forms', { label: 'Say it', table })).body;
  const draft = (await builder.call('GET', `/api/forms/${form.id}/draft`)).body;
  const page = { slug: 'say-it', intro: '', thanks: 'Thank you.' };
  const saved = await builder.call('PUT', `/api/forms/${form.id}/draft`, {
    revision: draft.revision,
    definition: { ...draft.definition, page },
  });
  const published = await builder.call('POST', `/api/forms/${form.id}/publish`, { revision: saved.body.revision });
  expect(published.status, JSON.stringify(published.body)).toBe(200);
  const anybody = office.anonymous;
  const before = await count();
  for (const values of [{}, { remark: null }, { remark: '' }]) {
    const { status, body } = await anybody.call('POST', '/api/public/say-it/entries', { values }, key());
    expect([status, body.detail]).toEqual([422, 'Nothing is answered yet. Answer at least one question, then send.']);
  }
  const sent = await anybody.call('POST', '/api/public/say-it/entries', { values: { remark: 'Here' } }, key());
  expect(sent.status, JSON.stringify(sent.body)).toBe(200);
  expect(await count()).toBe(before + 1);
});
