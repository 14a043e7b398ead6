import { afterAll, beforeAll, expect, test } from 'vitest';
import { type Answer, type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { addServices } from '../fixtures/services.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
beforeAll(async () => {
  office = await testOffice();
  await addServices(office);
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
});
afterAll(() => office.close());

let keys = 0;
const save = (url: string, values: object, lines: object = {}) =>
  clerk.call('POST', url, { values, lines }, { 'idempotency-key': `conflicts-${++keys}` });
const numberOf = ({ body }: Answer): number => Number(body.record.values.number.slice(-5));

test('a save that is refused because something is unique draws no number, of the record or of its lines', async () => {
  await builder.call('PATCH', '/api/tables/quay_stays/fields/registration', { unique: true });
  const stays = '/api/tables/quay_stays/entries';
  const first = await save(stays, { harbour: 1, registration: 'GS-0100' });
  expect(first.status).toBe(200);
  for (let n = 0; n < 3; n++) {
    const refused = await save(stays, { harbour: 1, registration: 'GS-0100' });
    expect(refused.body.errors[0]).toMatchObject({ path: 'registration', rule: 'unique' });
  }
  expect(numberOf(await save(stays, { harbour: 1, registration: 'GS-0101' }))).toBe(numberOf(first) + 1);
});

test('neither does one that is refused because of a line', async () => {
  await builder.call('PATCH', '/api/tables/quay_used/fields/quantity', { unique: true });
  const form = await builder.call('POST', '/api/cabinets/quay/forms', {
    table: 'quay_stays',
    label: 'With services',
    subforms: ['quay_used.stay'],
  });
  const { body: draft } = await builder.call('GET', `/api/forms/${form.body.id}/draft`);
  const live = await builder.call('POST', `/api/forms/${form.body.id}/publish`, { revision: draft.revision });
  expect(live.status).toBe(200);
  const [subform = ''] = draft.definition.sections.flatMap(({ items }: { items: { id?: string; kind?: string }[] }) =>
    items.flatMap((item) => (item.kind === 'subform' ? [item.id] : [])),
  );
  const url = `/api/forms/${form.body.id}/entries`;
  const line = (quantity: number) => ({ [subform]: [{ key: 'first', values: { service: 1, quantity } }] });
  const first = await save(url, { harbour: 1 }, line(2));
  expect(first.body.errors).toBeUndefined();
  for (let n = 0; n < 3; n++) {
    const refused = await save(url, { harbour: 1 }, line(2));
    expect(refused.body.errors[0]).toMatchObject({ path: subform, rule: 'unique' });
  }
  expect(numberOf(await save(url, { harbour: 1 }, line(3)))).toBe(numberOf(first) + 1);
});
