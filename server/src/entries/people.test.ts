import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { openStream } from '../fixtures/stream.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
  for (const field of [
    { label: 'Assigned to', type: 'account' },
    {
      label: 'Dues',
      type: 'amount',
      settings: { currency: 'EUR', rounding: 'halfEven' },
      calculation: 'length * 0.05',
    },
  ])
    expect((await builder.call('POST', '/api/tables/quay_stays/fields', { field })).status).toBe(200);
});
afterAll(() => office.close());

let keys = 0;
const save = (values: object, more: object = {}, who = clerk) =>
  who.call(
    'POST',
    '/api/tables/quay_stays/entries',
    { values, ...more },
    { 'idempotency-key': `people-${++keys}-0000000000` },
  );

describe('an account in a record', () => {
  test('is one of the cabinet’s people: an unknown login and one of another cabinet are refused at the field', async () => {
    expect((await save({ harbour: 1, assigned_to: 'AUDITOR' })).body.record.values.assigned_to).toBe('auditor');
    for (const login of ['nobody', 'stranger'])
      expect(await save({ harbour: 1, assigned_to: login })).toMatchObject({
        status: 422,
        body: { errors: [{ path: 'assigned_to', message: expect.stringContaining(`the login ${login}`) }] },
      });
  });

  test('the database holds it against who skips the server', async () => {
    await expect(
      office.database.databases.owner.raw("INSERT INTO data.quay_stays (harbour, assigned_to) VALUES (1, 'nobody')"),
    ).rejects.toThrow('foreign key');
  });

  test('stays readable in history and export, and in a record whose person has left', async () => {
    const { body } = await save({ harbour: 1, assigned_to: 'auditor' });
    await office.database.databases.owner.raw("DELETE FROM fiche.membership WHERE login = 'auditor'");
    const { id, version } = body.record;
    expect((await save({ note: 'moved' }, { record: id, version })).status).toBe(200);
    const lines = await clerk.call('GET', `/api/tables/quay_stays/records/${id}/history`);
    expect(JSON.stringify(lines.body)).toContain('"label":"Assigned to","before":"","after":"auditor"');
    expect((await builder.call('GET', '/api/tables/quay_stays/export')).text).toContain('auditor');
    await office.database.databases.owner.raw(
      "INSERT INTO fiche.membership (login, cabinet, role) VALUES ('auditor', 'quay', 'auditor')",
    );
  });

  test('is read by an import from the login or the display name', async () => {
    const received = await builder.send(
      '/api/cabinets/quay/imports?file=stays.csv',
      'Harbour,Assigned to,Dues\nGannet Quay,Auditor,\nGannet Quay,the night desk,\n',
    );
    const plan = {
      reading: { kind: 'csv' },
      into: { kind: 'table', table: 'quay_stays' },
      columns: [
        { name: 'Harbour', at: 0, to: { kind: 'field', field: 'harbour' }, matchOn: 'name' },
        { name: 'Assigned to', at: 1, to: { kind: 'field', field: 'assigned_to' } },
        { name: 'Dues', at: 2, to: { kind: 'nowhere' } },
      ],
    };
    await builder.call('POST', `/api/cabinets/quay/imports/${received.body.id}/check`, { plan });
    await office.services.tasks.idle();
    const { body } = await builder.call('GET', `/api/cabinets/quay/imports/${received.body.id}/bad-rows`);
    expect(body.rows).toMatchObject([
      { number: 3, problems: [{ column: 'Assigned to', message: expect.stringContaining('“the night desk”') }] },
    ]);
  });

  test('stands on no public page', async () => {
    const { body: draft } = await builder.call('GET', '/api/forms/quay_arrival/draft');
    const [section] = draft.definition.sections;
    const items = [...section.items, { ...section.items[0], field: 'assigned_to', label: null, readOnly: false }];
    const definition = { ...draft.definition, sections: [{ ...section, items }] };
    const saved = await builder.call('PUT', '/api/forms/quay_arrival/draft', { definition, revision: draft.revision });
    expect(saved.body.findings).toContainEqual(
      expect.objectContaining({ rule: 'disclosure', weight: 'must', path: 'assigned_to' }),
    );
  });

  test('is told at once, wherever they are signed in, and only they', async () => {
    expect((await office.anonymous.call('GET', '/api/events')).status).toBe(401);
    await office.app.listen({ port: 0, host: '127.0.0.1' });
    const listen = (login: string) => openStream(office, '/api/events', login);
    const [auditor, master] = [await listen('auditor'), await listen('harbourmaster')];
    const { body } = await save({ harbour: 1, assigned_to: 'auditor' });
    const told = `data: ${JSON.stringify({ kind: 'assigned', by: 'quayclerk', cabinet: 'quay', table: 'quay_stays', record: body.record.id })}`;
    await expect.poll(() => auditor.at(-1)).toBe(told);
    // One's own work, and a save that leaves it as it was, tell nothing.
    const { id, version } = body.record;
    await save({ note: 'seen' }, { record: id, version }, builder);
    await save({ harbour: 1, assigned_to: 'harbourmaster' }, {}, builder);
    await save({ harbour: 1, assigned_to: 'auditor' });
    await expect.poll(() => auditor.length).toBe(3);
    expect(master).toEqual([':']);
  });
});

test('an amount that is calculated is rounded by its rule, and kept in its places', async () => {
  const dues = async (length: number) => (await save({ harbour: 1, length })).body.record.values.dues;
  expect([await dues(10.5), await dues(10.7), await dues(10.3)]).toEqual([0.52, 0.54, 0.52]);
});
