import { all, is } from '@fiche/core/conditions';
import { findField } from '@fiche/core/tables';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { loadDefinitions } from '../definitions/index.ts';
import { cabinetZip, fillCabinet } from '../exports/index.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
const of = (parent: string) => all(is({ kind: 'column', path: parent }, { kind: 'form', path: parent }));
const narrow = (table: string, field: string, narrowing: unknown) =>
  builder.call('PATCH', `/api/tables/${table}/fields/${field}`, { narrowing });

beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
  expect(await narrow('quay_stays', 'pontoon', of('harbour'))).toMatchObject({ status: 200 });
  expect(await narrow('quay_stays', 'berth', of('pontoon'))).toMatchObject({ status: 200 });
});
afterAll(() => office.close());

let keys = 0;
const save = (values: object, url = '/api/tables/quay_stays/entries', who = clerk) =>
  who.call('POST', url, { values }, { 'idempotency-key': `narrowing-${++keys}-0000000000` });
const change = (
  { id, version }: { id: number; version: number },
  values: object,
  url = '/api/tables/quay_stays/entries',
) => clerk.call('POST', url, { values, record: id, version }, { 'idempotency-key': `narrowing-${++keys}-0000000000` });
const berthed = async () => (await save({ harbour: 1, pontoon: 1, berth: 1 })).body.record;

describe('a narrowing of the table', () => {
  test('guards its own card: a berth of another pontoon is refused, one of this pontoon is saved', async () => {
    expect(await save({ harbour: 1, pontoon: 1, berth: 3 })).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'berth', rule: 'choice', message: expect.stringContaining('with this Pontoon') }] },
    });
    expect(await save({ harbour: 2, pontoon: 1 })).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'pontoon', rule: 'choice' }] },
    });
    expect(await save({ harbour: 1, pontoon: 1, berth: 1 })).toMatchObject({ status: 200 });
  });

  test('with the pontoon blank, the harbour’s berths are the choices and no others', async () => {
    const asked = await clerk.call('POST', '/api/tables/quay_stays/choices', {
      field: 'berth',
      values: { harbour: 2 },
    });
    expect(asked.body.choices.map((one: { value: number }) => one.value)).toEqual([4]);
  });

  test('a change of the parent alone is held to it too', async () => {
    const refused = await change(await berthed(), { pontoon: 2, berth: 1 });
    expect(refused).toMatchObject({ status: 422, body: { errors: [{ path: 'berth' }] } });
  });

  test('a form that shows the pontoon without the berth holds the berth that is there', async () => {
    const { body: form } = await builder.call('POST', '/api/cabinets/quay/forms', {
      table: 'quay_stays',
      label: 'Moves',
    });
    const { body: draft } = await builder.call('GET', `/api/forms/${form.id}/draft`);
    const [section] = draft.definition.sections;
    const items = section.items.filter((one: { field: string }) => ['harbour', 'pontoon'].includes(one.field));
    const definition = { ...draft.definition, sections: [{ ...section, items }] };
    const saved = await builder.call('PUT', `/api/forms/${form.id}/draft`, { definition, revision: draft.revision });
    expect(saved.body.findings).toEqual([]);
    await builder.call('POST', `/api/forms/${form.id}/publish`, { revision: saved.body.revision });
    const moved = await change(await berthed(), { harbour: 1, pontoon: 2 }, `/api/forms/${form.id}/entries`);
    expect(moved).toMatchObject({ status: 422, body: { errors: [{ path: 'berth' }] } });
  });

  test('an import refuses the rows that do not fit it, with the column', async () => {
    const received = await builder.send(
      '/api/cabinets/quay/imports?file=stays.csv',
      'Harbour,Pontoon,Berth\nGannet Quay,B,B-1\nTern Cove,B,B-1\nTern Cove,,B-1\n',
    );
    const column = (name: string, at: number, matchOn: string) => ({
      name,
      at,
      to: { kind: 'field', field: name.toLowerCase() },
      matchOn,
    });
    const plan = {
      reading: { kind: 'csv' },
      into: { kind: 'table', table: 'quay_stays' },
      columns: [column('Harbour', 0, 'name'), column('Pontoon', 1, 'letter'), column('Berth', 2, 'number')],
    };
    expect((await builder.call('POST', `/api/cabinets/quay/imports/${received.body.id}/check`, { plan })).status).toBe(
      200,
    );
    await office.services.tasks.idle();
    const { body } = await builder.call('GET', `/api/cabinets/quay/imports/${received.body.id}/bad-rows`);
    expect(
      body.rows.map((row: { number: number; problems: { column: string }[] }) => [
        row.number,
        row.problems.map((one) => one.column),
      ]),
    ).toEqual([
      [3, ['Pontoon']],
      [4, ['Berth']],
    ]);
  });

  test('says beforehand which records break it', async () => {
    await save({ harbour: 1, pontoon: 1, berth: 1 });
    const shorter = all({
      kind: 'compare',
      left: { kind: 'column', path: 'longest' },
      operator: 'more',
      right: { kind: 'constant', value: 10 },
    });
    const tried = await builder.call('POST', '/api/tables/quay_stays/trial', {
      kind: 'narrowing',
      field: 'berth',
      narrowing: shorter,
    });
    expect(tried.body.examples[0]).toMatchObject({ why: 'is not among the choices' });
    const { rows } = await office.database.databases.owner.raw(
      'SELECT count(*) AS n FROM data.quay_stays s JOIN data.quay_berths b ON b.id = s.berth WHERE b.longest <= 10 AND s.archived_at IS NULL',
    );
    expect(tried.body.breaks).toBe(rows[0].n);
  });

  test.each([
    ['pontoon', all(is({ kind: 'column', path: 'nonesuch' }, { kind: 'form', path: 'harbour' })), 'not there any more'],
    ['pontoon', all(is({ kind: 'column', path: 'letter' }, { kind: 'form', path: 'harbour' })), 'never'],
    ['note', of('harbour'), 'Only a link'],
    ['pontoon', all(is({ kind: 'column', path: 'harbour' }, { kind: 'enclosing', path: 'harbour' })), 'subform'],
  ])('refuses one that cannot work: %s %#', async (field, narrowing, message) => {
    expect(await narrow('quay_stays', field, narrowing)).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'narrowing', message: expect.stringContaining(message) }] },
    });
  });

  test('keeps what it reads in use, on either side', async () => {
    for (const [table, field] of [
      ['quay_stays', 'harbour'],
      ['quay_pontoons', 'harbour'],
    ])
      expect(await builder.call('POST', `/api/tables/${table}/fields/${field}/retire`, {})).toMatchObject({
        status: 409,
        body: { detail: expect.stringContaining('is narrowed by') },
      });
  });

  test('goes with the cabinet’s file into another cabinet', async () => {
    const { databases } = office.services;
    const actor = { name: 'stranger', through: { kind: 'seed', label: 'test' } } as const;
    await fillCabinet(databases, 'other', actor, await cabinetZip(databases.app, 'quay'));
    const { tables } = await loadDefinitions(databases.app);
    expect(findField(tables.get('other_stays'), 'berth')?.narrowing).toEqual(of('pontoon'));
  });
});
