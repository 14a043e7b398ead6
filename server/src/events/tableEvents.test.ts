import { afterAll, beforeAll, expect, test } from 'vitest';
import { addLimitedRoles } from '../fixtures/limitedRoles.ts';
import { type TestOffice, testOffice } from '../fixtures/office.ts';
import { openStream } from '../fixtures/stream.ts';

let office: TestOffice;

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office);
  await office.app.listen({ port: 0, host: '127.0.0.1' });
});
afterAll(() => office.close());

const listen = (login: string) => openStream(office, '/api/tables/quay_stays/events', login);

test('a list hears that others have saved, not how often, and nothing of what its role does not see', async () => {
  const clerk = await office.signIn('quayclerk');
  const save = (harbour: number, at: number) =>
    clerk.call(
      'POST',
      '/api/tables/quay_stays/entries',
      { values: { harbour } },
      { 'idempotency-key': `listed-${at}` },
    );
  const [auditor, ranged, own] = [await listen('auditor'), await listen('theranged'), await listen('quayclerk')];
  // The second harbour is out of the range.
  for (const at of [1, 2, 3]) expect((await save(2, at)).status).toBe(200);
  const told = 'data: {"by":"quayclerk"}';
  await expect.poll(() => auditor.filter((one) => one === told).length).toBe(1);
  expect((await save(1, 4)).status).toBe(200);
  await expect.poll(() => ranged.filter((one) => one === told).length).toBe(1);
  await expect.poll(() => auditor.filter((one) => one === told).length, { timeout: 5_000 }).toBe(2);
  expect(own.filter((one) => one.startsWith('data'))).toEqual([]);
});
