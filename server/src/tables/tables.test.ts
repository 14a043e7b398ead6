import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;
beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
});
afterAll(() => office.close());

const addTable = (label: string) => builder.call('POST', '/api/cabinets/quay/tables', { label });
/** Adds a field, and gives the table as it is then. */
const addField = async (table: string, field: object) => {
  const { status, body } = await builder.call('POST', `/api/tables/${table}/fields`, { field });
  return { status, body: status === 200 ? body.table : body };
};
const columnsOf = async (table: string) =>
  (
    await office.database.databases.owner.raw(
      `SELECT column_name, data_type FROM information_schema.columns WHERE table_schema = 'data' AND table_name = ? ORDER BY ordinal_position`,
      [table],
    )
  ).rows;

describe('tables and fields', () => {
  test('are real PostgreSQL tables with typed columns, audit fields and foreign keys', async () => {
    const { body: table } = await addTable('Moorings');
    await addField(table.id, { label: 'Depth', type: 'decimal', settings: { places: 1 } });
    await addField(table.id, { label: 'Berth', type: 'link', settings: { table: 'quay_berths' } });
    const columns = await columnsOf('quay_moorings');
    expect(columns.map((one: { column_name: string }) => one.column_name)).toEqual([
      'id',
      'version',
      'created_at',
      'created_by',
      'changed_at',
      'changed_by',
      'archived_at',
      'depth',
      'berth',
    ]);
    await expect(
      office.database.databases.owner.raw(`INSERT INTO data.quay_moorings (berth) VALUES (99999)`),
    ).rejects.toThrow('foreign key');
  });

  test('a label of 500 characters is refused; any script with quotes is taken', async () => {
    const long = await addTable('x'.repeat(500));
    expect(long).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'label', message: expect.stringContaining('at most 120') }] },
    });
    const { body } = await addTable(`泊位 “O'Neil” "x"; DROP TABLE`);
    expect(body).toMatchObject({
      label: `泊位 “O'Neil” "x"; DROP TABLE`,
      id: expect.stringMatching(/^[a-z][a-z0-9_]+$/),
    });
    const added = await addField(body.id, { label: '長さ', type: 'text' });
    expect(added.body.fields[0]).toMatchObject({ label: '長さ', id: 'field' });
  });

  test('two labels of one column name get two columns; the same label twice is refused', async () => {
    const { body: table } = await addTable('Names');
    await addField(table.id, { label: 'Owner', type: 'text' });
    const second = await addField(table.id, { label: 'Owner!', type: 'text' });
    expect(second.body.fields.map((one: { id: string }) => one.id)).toEqual(['owner', 'owner_2']);
    const reserved = await addField(table.id, { label: 'Version', type: 'text' });
    expect(reserved.body.fields.at(-1).id).toBe('version_2');
    expect(await addField(table.id, { label: 'OWNER', type: 'text' })).toMatchObject({
      status: 422,
      body: { errors: [{ path: 'label' }] },
    });
    expect((await addTable('names')).status).toBe(422);
  });

  test.each([
    ['an unknown type', { label: 'A', type: 'colour' }, 'type'],
    ['a link to nowhere', { label: 'A', type: 'link', settings: { table: 'quay_ghosts' } }, 'settings.table'],
    ['a pattern that is none', { label: 'A', type: 'text', settings: { pattern: '(' } }, 'settings.pattern'],
    [
      'a default that does not fit',
      { label: 'A', type: 'date', initial: { kind: 'value', value: '2026-02-31' } },
      'initial',
    ],
  ])('%s is refused at its place', async (_what, field, path) => {
    expect(await addField('quay_berths', field)).toMatchObject({
      status: 422,
      body: { errors: [{ path: expect.stringContaining(path) }] },
    });
  });

  test('a label can change at any time; the column stays, and the ledger says who', async () => {
    const { body } = await builder.call('PATCH', '/api/tables/quay_berths/fields/longest', { label: 'Longest vessel' });
    expect(body.table.fields.find((one: { id: string }) => one.id === 'longest').label).toBe('Longest vessel');
    const { body: ledger } = await builder.call(
      'GET',
      '/api/cabinets/quay/ledger?table=quay_berths&account=harbourmaster',
    );
    expect(ledger.lines[0]).toMatchObject({
      what: 'Field',
      title: 'Berths › Longest vessel',
      through: 'Tables',
      changes: [{ label: 'Label', before: 'Longest', after: 'Longest vessel' }],
    });
  });
});

test('a builder makes a cabinet and is its first member; a clerk does not', async () => {
  const made = await builder.call('POST', '/api/cabinets', { label: 'Boatyard' });
  expect(made).toMatchObject({ status: 200, body: { id: 'boatyard', label: 'Boatyard' } });
  expect((await builder.call('GET', '/api/cabinets/boatyard')).body).toMatchObject({
    tables: [],
    accounts: [{ login: 'harbourmaster' }],
  });
  expect((await builder.call('POST', '/api/cabinets', { label: 'boatyard' })).status).toBe(422);
  const clerk = await office.signIn('quayclerk');
  expect((await clerk.call('POST', '/api/cabinets', { label: 'Mine' })).status).toBe(403);
  expect((await clerk.call('GET', '/api/cabinets/boatyard')).status).toBe(404);
});

describe('forms', () => {
  test('a draft is saved over the revision that was seen, and published as the next version', async () => {
    const { body: draft } = await builder.call('GET', '/api/forms/quay_check_in/draft');
    const definition = { ...draft.definition, label: 'Arrivals desk' };
    const saved = await builder.call('PUT', '/api/forms/quay_check_in/draft', { definition, revision: draft.revision });
    expect(saved.body).toMatchObject({ changedSince: true, liveVersion: 1, revision: draft.revision + 1 });
    expect(
      (await builder.call('PUT', '/api/forms/quay_check_in/draft', { definition, revision: draft.revision })).status,
    ).toBe(409);
    const published = await builder.call('POST', '/api/forms/quay_check_in/publish', { revision: saved.body.revision });
    expect(published.body).toMatchObject({ changedSince: false, liveVersion: 2 });
    expect((await builder.call('GET', '/api/forms/quay_check_in')).body.definition.label).toBe('Arrivals desk');
  });

  test('an entry begun on an older version is finished on it', async () => {
    const { begun } = (await builder.call('GET', '/api/forms/quay_arrival')).body;
    const { body: draft } = await builder.call('GET', '/api/forms/quay_arrival/draft');
    const [section] = draft.definition.sections;
    const items = section.items.map((one: { field: string }) =>
      one.field === 'note' ? { ...one, required: true } : one,
    );
    const definition = { ...draft.definition, sections: [{ ...section, items }] };
    const saved = await builder.call('PUT', '/api/forms/quay_arrival/draft', { definition, revision: draft.revision });
    await builder.call('POST', '/api/forms/quay_arrival/publish', { revision: saved.body.revision });
    const send = (formVersion: number) =>
      builder.call(
        'POST',
        '/api/forms/quay_arrival/entries',
        { values: { harbour: 1 }, formVersion },
        { 'idempotency-key': `version-${formVersion}-entry`, 'x-fiche-begun': begun },
      );
    expect((await send(1)).status).toBe(200);
    expect((await send(2)).body.errors[0]).toMatchObject({ path: 'note', rule: 'required' });
    expect((await send(9)).status).toBe(409);
    const { body: ledger } = await builder.call('GET', '/api/cabinets/quay/ledger?table=quay_stays');
    expect(ledger.lines[0].through).toBe('Arrival, version 1');
  });

  test('a draft that cannot work is kept but not published, with what is wrong', async () => {
    const { body: form } = await builder.call('POST', '/api/cabinets/quay/forms', {
      table: 'quay_stays',
      label: 'Quick stay',
    });
    const { body: draft } = await builder.call('GET', `/api/forms/${form.id}/draft`);
    const fields = draft.definition.sections[0].items.filter((one: { field: string }) => one.field !== 'harbour');
    const fill = {
      table: 'quay_vessels',
      key: 'registration',
      whenNone: 'message',
      pairs: [{ from: 'name', to: 'persons', policy: 'replace' }],
    };
    const broken = fields.map((one: { field: string }) => (one.field === 'registration' ? { ...one, fill } : one));
    const definition = { ...draft.definition, sections: [{ ...draft.definition.sections[0], items: broken }] };
    const saved = await builder.call('PUT', `/api/forms/${form.id}/draft`, { definition, revision: draft.revision });
    expect(saved.body.findings.map((one: { path: string; rule: string }) => `${one.path} ${one.rule}`)).toEqual([
      'registration fill',
      'harbour required',
    ]);
    const refused = await builder.call('POST', `/api/forms/${form.id}/publish`, { revision: saved.body.revision });
    expect(refused.status).toBe(422);
    expect(refused.body.errors[0].message).toContain('cannot fill');
  });
});

test('records: a page goes on where the last one ended, in every order; archived ones leave and come back', async () => {
  for (const query of ['', '&sort=number', '&sort=longest&direction=down', '&sort=secret']) {
    const seen: number[] = [];
    let after = '';
    do {
      const { body } = await builder.call('GET', `/api/tables/quay_berths/records?limit=2${query}${after}`);
      seen.push(...body.records.map((one: { id: number }) => one.id));
      after = body.after === null ? '' : `&after=${encodeURIComponent(body.after)}`;
    } while (after !== '');
    expect([...seen].sort(), query).toEqual([1, 2, 3, 4]);
  }
  const archived = await builder.call('POST', '/api/tables/quay_berths/records/3/archive', { version: 1 });
  expect(archived.body).toMatchObject({ archived: true, version: 2 });
  expect((await builder.call('POST', '/api/tables/quay_berths/records/3/restore', { version: 1 })).status).toBe(409);
  expect((await builder.call('POST', '/api/tables/quay_berths/records/3/restore', { version: 2 })).body.archived).toBe(
    false,
  );
});
