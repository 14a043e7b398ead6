import { all, is } from '@fiche/core/conditions';
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { addLimitedRoles } from '../fixtures/limitedRoles.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { mailNotices } from './noticeMail.ts';
import { notifyViewWatchers } from './viewWatching.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
let view: number;
const views = '/api/tables/quay_stays/views';
const owner = () => office.database.databases.owner;
const notify = () => notifyViewWatchers(owner());
const by = (name: string, sql: string, values: (string | number)[] = []) =>
  asActor(owner(), { name, through: { kind: 'seed', label: 'test' } }, (write) => write.raw(sql, values));
const add = (name: string, harbour: number, many = 1) =>
  by(
    name,
    `INSERT INTO data.quay_stays (harbour, note) SELECT ${harbour}, 'secret word' FROM generate_series(1, ${many})`,
  );
const inboxOf = async (who: Client) => (await who.call('GET', '/api/account/notices')).body;
const seeAll = (who: Client) => who.call('POST', '/api/account/notices/seen', { notices: 'all' });

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office);
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
  const filter = all(is({ kind: 'column', path: 'harbour' }, { kind: 'constant', value: 1 }));
  const definition = { label: 'First harbour', columns: [{ path: 'number' }], filter, shared: true };
  view = (await builder.call('POST', views, { definition })).body.id;
  await add('auditor', 1);
  expect((await builder.call('PUT', `${views}/${view}/watch`, {})).status).toBe(200);
  await notify();
});
afterAll(() => office.close());
beforeEach(async () => {
  await notify();
  await seeAll(builder);
});

test('who watches a view is told how many records of it others have added or changed, once', async () => {
  await add('quayclerk', 1, 2);
  await add('quayclerk', 2, 5);
  await add('harbourmaster', 1);
  expect(await notify()).toBe(1);
  expect(await notify()).toBe(0);
  const { notices, unseen } = await inboxOf(builder);
  expect(unseen).toBe(1);
  expect(notices[0]).toMatchObject({
    kind: 'view',
    by: 'quayclerk',
    times: 2,
    view: { id: view, label: 'First harbour' },
  });
  await by('auditor', "UPDATE data.quay_stays SET note = 'changed' WHERE id = (SELECT min(id) FROM data.quay_stays)");
  await notify();
  expect((await inboxOf(builder)).notices[0]).toMatchObject({ by: 'auditor', times: 3 });
});

test('what is written slowly is told when it is there, and what was told before is not told again', async () => {
  const slow = await owner().transaction();
  await slow.raw("SELECT set_config('fiche.actor', 'quayclerk', true), set_config('fiche.through', '{}', true)");
  await slow.raw('INSERT INTO data.quay_stays (harbour) VALUES (1)');
  await add('auditor', 1);
  expect(await notify()).toBe(0);
  await slow.commit();
  expect(await notify()).toBe(1);
  expect((await inboxOf(builder)).notices[0].times).toBe(2);
});

test('is told of what their role sees, and of nothing once they do not have the view', async () => {
  const ranged = await office.signIn('theown');
  await ranged.call('PUT', `${views}/${view}/watch`, {});
  await add('quayclerk', 1);
  await notify();
  expect((await inboxOf(ranged)).unseen).toBe(0);
  await clerk.call('PUT', `${views}/${view}/watch`, {});
  await builder.call('PATCH', '/api/account', { email: 'ailsa@gannet.example', mailed: ['view'] });
  await add('auditor', 1, 2);
  await notify();
  expect((await inboxOf(clerk)).unseen).toBe(1);
  expect((await clerk.call('GET', '/api/account/watches')).body.watches).toMatchObject([
    { view, title: 'First harbour' },
  ]);
  await mailNotices(owner(), { server: null, publicUrl: 'https://fiche.gannet.example' }, 0);
  const { body: outbox } = await builder.call('GET', '/api/cabinets/quay/messages');
  expect(outbox.messages[0].subject).toBe('3 records were added or changed in Stays: First harbour, last by auditor');
  expect(outbox.messages[0].body).toContain(`https://fiche.gannet.example/quay/tables/quay_stays?view=${view}`);
  const { body: shared } = await builder.call('GET', views);
  const { id, owner: _owner, revision, mayChange: _may, problem: _problem, ...definition } = shared.views[0];
  await builder.call('PUT', `${views}/${id}`, { definition: { ...definition, shared: false }, revision });
  expect(await inboxOf(clerk)).toMatchObject({ unseen: 0, notices: [] });
  await add('auditor', 1);
  await notify();
  expect((await inboxOf(clerk)).unseen).toBe(0);
  await builder.call('DELETE', `${views}/${id}`);
  expect((await inboxOf(builder)).notices.filter((one: { kind: string }) => one.kind === 'view')).toEqual([]);
});
