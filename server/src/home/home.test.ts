import type { LineView } from '@fiche/core/api';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { addLimitedRoles, addStay } from '../fixtures/limitedRoles.ts';
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

test('what others changed is told by save: of what the caller sees, however many lines the newest save has', async () => {
  const changes = async (login: string): Promise<LineView[]> =>
    (await (await office.signIn(login)).call('GET', `${HOME}/changes`)).body.lines;
  const near = await addStay(office, 'harbourmaster', { harbour: 1, note: 'near' });
  const far = await addStay(office, 'harbourmaster', { harbour: 2, note: 'far' });
  const own = await addStay(office, 'quayclerk', { harbour: 1, note: 'own' });
  const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'test' } } as const;
  const { rows: many } = await asActor(office.database.databases.owner, actor, (owner) =>
    owner.raw<{ rows: { id: number }[] }>(
      'INSERT INTO data.quay_stays (harbour) SELECT 2 FROM generate_series(1, 200) RETURNING id',
    ),
  );
  const newest = Math.min(...many.map((one) => one.id));
  const told = await changes('quayclerk');
  const records = told.map((line) => Number(line.record));
  expect(records.slice(0, 3)).toEqual([newest, far, near]);
  expect(records).not.toContain(own);
  expect(told[2]?.changes.map((one) => one.after)).toContain('near');
  // A role of the first harbour reads of its records only; of a hidden field it reads nothing.
  const first = await changes('theranged');
  expect(first.map((line) => Number(line.record))).toContain(near);
  expect(first.map((line) => Number(line.record))).not.toContain(far);
  expect(JSON.stringify(await changes('theblind'))).not.toContain('near');
  expect((await changes('harbourmaster')).map((line) => Number(line.record))).toContain(own);
});
