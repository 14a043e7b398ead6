import { afterAll, beforeAll, expect, test } from 'vitest';
import { addLimitedRoles } from '../fixtures/limitedRoles.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
const HOME = '/api/cabinets/quay/home';
const make = async (who: Client, label: string, more: object = {}): Promise<number> =>
  (
    await who.call('POST', '/api/tables/quay_stays/views', {
      definition: { label, columns: [{ path: 'number' }], ...more },
    })
  ).body.id;
const labels = (body: { views: { view: { label: string } }[] }): string[] => body.views.map((one) => one.view.label);
const put = (who: Client, ...views: object[]) => who.call('PUT', HOME, { views });

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office);
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
});
afterAll(() => office.close());

test('Home has what is on everybody’s and one’s own choice, in one’s own order; what is taken off can be put back', async () => {
  const everybody = await make(builder, 'Arrivals a week', {
    shared: true,
    home: true,
    shown: { as: 'chart', chart: { kind: 'time', path: 'arrival' } },
  });
  const own = await make(clerk, 'My stays');
  const foreign = await make(builder, 'Builder’s own');
  expect(labels((await clerk.call('GET', HOME)).body)).toEqual(['Arrivals a week']);
  // Somebody else’s own view is not there, whoever names it.
  const { body: chosen } = await put(clerk, { view: own }, { view: foreign });
  expect(labels(chosen)).toEqual(['My stays', 'Arrivals a week']);
  const { body: without } = await put(clerk, { view: own }, { view: everybody, hidden: true });
  expect([labels(without), without.hidden]).toEqual([
    ['My stays'],
    [{ table: 'quay_stays', view: everybody, label: 'Arrivals a week' }],
  ]);
  expect(labels((await builder.call('GET', HOME)).body)).toEqual(['Arrivals a week']);
  expect(labels((await put(clerk, { view: everybody }, { view: own })).body)).toEqual(['Arrivals a week', 'My stays']);
  await clerk.call('DELETE', `/api/tables/quay_stays/views/${own}`);
  expect(labels((await clerk.call('GET', HOME)).body)).toEqual(['Arrivals a week']);
});

test('a role has on Home what it sees, and at most thirty views', async () => {
  await make(builder, 'Notes', {
    shared: true,
    home: true,
    shown: { as: 'chart', chart: { kind: 'categories', path: 'note' } },
  });
  const blind = await office.signIn('theblind');
  expect(labels((await blind.call('GET', HOME)).body)).not.toContain('Notes');
  expect(labels((await clerk.call('GET', HOME)).body)).toContain('Notes');
  const { status, body } = await put(clerk, ...Array.from({ length: 31 }, (_, at) => ({ view: at + 1 })));
  expect([status, body.errors[0].message]).toEqual([
    422,
    'At most 30 views stand on Home. Take another one off first.',
  ]);
});
