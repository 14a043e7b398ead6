import { exportSettingsSchema } from '@fiche/core/exports';
import { FIELD_TYPES, fieldType } from '@fiche/core/fields';
import { confirmDisclosures } from '@fiche/core/proof';
import { isGiven, type TableDefinition, targetTable } from '@fiche/core/tables';
import { plainListing } from '@fiche/core/views';
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { freshDatabase, type TestDatabase } from '../fixtures/database.ts';
import { type Client, PASSWORD, type TestOffice, testOffice } from '../fixtures/office.ts';
import { findForm, publishForm, saveDraft } from '../forms/index.ts';
import { createCabinet } from '../tables/index.ts';
import { cabinetZip, fillCabinet } from './index.ts';
import { writeFile } from './recordsFile.ts';

let office: TestOffice;
let builder: Client;
let elsewhere: TestDatabase;
const actor = { name: 'harbourmaster', through: { kind: 'import', label: 'quay.zip' } } as const;
const owner = () => office.database.databases.owner;

beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  elsewhere = await freshDatabase();
  await asActor(elsewhere.databases.owner, actor, (transaction) => createCabinet(transaction, 'pier', 'Quay'));
  const add = (table: string, field: object) => builder.call('POST', `/api/tables/${table}/fields`, { field });
  await add('quay_berths', { label: 'Tags', type: 'choices', settings: { choices: ['deep, wide', 'shore power'] } });
  await add('quay_berths', { label: 'Neighbours', type: 'links', settings: { table: 'quay_berths' } });
  await add('quay_berths', { label: 'Surveyed', type: 'dateTime' });
  // The route refuses a title that tells strangers more than the public page has confirmed: here both change at once.
  await asActor(owner(), actor, async (transaction) => {
    await transaction.raw(`UPDATE fiche."table" SET title = '{number} of {pontoon}' WHERE id = 'quay_berths'`);
    const definitions = await loadDefinitions(transaction);
    const form = findForm(definitions, 'quay_arrival');
    const draft = await saveDraft(
      transaction,
      form.id,
      confirmDisclosures(form.draft, definitions.tables),
      form.draftRevision,
    );
    await publishForm(transaction, form.id, draft.revision);
  });
  await builder.call('POST', '/api/tables/quay_berths/fields/secret/retire', {});
  await builder.call('POST', '/api/tables/quay_berths/constraints', {
    constraint: { kind: 'unique', id: 'number_on_pontoon', fields: ['pontoon', 'number'], message: 'Taken.' },
  });
  await addEveryType();
  await builder.call('POST', '/api/cabinets/quay/lists', { label: 'Dredging', levels: ['Water', 'Cause'] });
  await builder.call('POST', '/api/tables/quay_dredging/combinations', {
    add: [
      ['Channel', 'Silt'],
      ['Channel', 'Rock'],
    ],
  });
  await asActor(owner(), actor, (transaction) =>
    transaction.raw(
      `UPDATE data.quay_berths SET tags = '{"deep, wide"}', neighbours = '{2,1}', surveyed = '2026-08-17 15:30', number = '=1+1' WHERE id = 3`,
    ),
  );
  await asActor(owner(), actor, (transaction) =>
    transaction.raw(
      `INSERT INTO data.quay_stays (harbour, note, departure) VALUES (1, E'two\\nlines, "quoted"', '2026-08-19 10:00')`,
    ),
  );
});
/** A value of every type of field that people fill in; a file and a person are never in a cabinet file. */
const VALUES: Readonly<Record<string, unknown>> = {
  text: 'Buoy "N1"; lit, bell',
  longText: 'two\nlines',
  wholeNumber: -12,
  decimal: 12.25,
  amount: 1_250.5,
  percent: 40,
  yesNo: false,
  date: '2027-03-01',
  time: '10:15',
  dateTime: '2027-03-01T10:15',
  choice: 'lit',
  choices: ['bell', 'lit, green'],
  link: 1,
  links: [2, 1],
  email: 'quay@tern-cove.example',
  phone: '+44 1632 960123',
  webAddress: 'https://tern-cove.example/buoys',
  rating: 4,
};
const NEVER_TAKEN_ALONG = ['account', 'attachments'];

/** A table with a field of every type, one of them narrowed and one calculated, with rules of every kind, and a record. */
async function addEveryType(): Promise<void> {
  const { body: table } = await builder.call('POST', '/api/cabinets/quay/tables', { label: 'Everything' });
  const own = (name: string): object => {
    const { links, words, starting } = fieldType(name);
    if (links) return { table: 'quay_harbours' };
    return words ? { choices: ['bell', 'lit', 'lit, green'] } : (starting?.('EUR') ?? {});
  };
  for (const { name } of FIELD_TYPES.filter((type) => !NEVER_TAKEN_ALONG.includes(type.name))) {
    const added = await builder.call('POST', `/api/tables/${table.id}/fields`, {
      field: { label: `A ${name}`, type: name, settings: own(name) },
    });
    expect([name, added.status]).toEqual([name, 200]);
  }
  const column = (name: string) => `a_${name.toLowerCase()}`;
  const message = 'Choose another.';
  for (const constraint of [
    { kind: 'unique', id: 'same', fields: [column('text'), column('date')], message },
    { kind: 'atMost', id: 'full', most: 3, same: [column('link')], from: column('dateTime'), message },
  ]) {
    const made = await builder.call('POST', `/api/tables/${table.id}/constraints`, { constraint });
    expect([constraint.kind, made.status]).toEqual([constraint.kind, 200]);
  }
  const saved = await builder.call(
    'POST',
    `/api/tables/${table.id}/entries`,
    { values: Object.fromEntries(Object.entries(VALUES).map(([name, value]) => [column(name), value])), lines: {} },
    { 'idempotency-key': 'every-type-of-field' },
  );
  expect(saved.body.errors).toBeUndefined();
}

afterAll(async () => {
  await office.close();
  await elsewhere.drop();
});

/** The cookie of a signed-in account, for answers that are no JSON. */
async function signedIn(login: string): Promise<{ cookie: string }> {
  const reply = await office.app.inject({
    method: 'POST',
    url: '/api/session',
    payload: { login, password: PASSWORD },
  });
  return { cookie: reply.cookies.map((one) => `${one.name}=${one.value}`).join('; ') };
}

describe('a cabinet file', () => {
  test('out, into an empty cabinet elsewhere, and out again: the same bytes', async () => {
    const first = await cabinetZip(office.database.databases.app, 'quay');
    const filled = await fillCabinet(elsewhere.databases, 'pier', actor, first);
    expect(filled).toMatchObject({ tables: 7, forms: 2, notes: [] });
    const second = await cabinetZip(elsewhere.databases.app, 'pier');
    const [a, b] = [unzipSync(first), unzipSync(second)];
    for (const name of Object.keys(a))
      expect(strFromU8(b[name] ?? new Uint8Array()), name).toBe(strFromU8(a[name] as Uint8Array));
    expect(Buffer.from(second).equals(Buffer.from(first))).toBe(true);
    // What the file says holds there, too: keys, rules, archived records, numbers that go on.
    const { rows } = await elsewhere.databases.app.raw(
      `SELECT archived_at IS NOT NULL AS gone FROM data.pier_berths WHERE number = 'A-9'`,
    );
    expect(rows).toEqual([{ gone: true }]);
    const twice = "INSERT INTO data.pier_dredging (water, cause) VALUES ('Channel', 'Silt')";
    await expect(asActor(elsewhere.databases.owner, actor, (transaction) => transaction.raw(twice))).rejects.toThrow(
      'duplicate key',
    );
    const next = await asActor(elsewhere.databases.owner, actor, (transaction) =>
      transaction.raw('INSERT INTO data.pier_stays (harbour) VALUES (1) RETURNING number'),
    );
    expect(next.rows[0].number).toMatch(/-00002$/);
    await expect(
      asActor(elsewhere.databases.owner, actor, (transaction) =>
        transaction.raw(`INSERT INTO data.pier_berths (number, pontoon) VALUES ('A-1', 1)`),
      ),
    ).rejects.toThrow('duplicate key');
  });

  test('takes along a value of every type of field', async () => {
    const typed = FIELD_TYPES.filter((type) => type.editable && !NEVER_TAKEN_ALONG.includes(type.name));
    expect(Object.keys(VALUES).toSorted()).toEqual(typed.map((type) => type.name).toSorted());
    const of = async (place: string) =>
      (await elsewhere.databases.owner.raw(`SELECT * FROM data.${place}`)).rows[0] as Record<string, unknown>;
    const [there] = (await owner().raw('SELECT * FROM data.quay_everything')).rows;
    const arrived = await of('pier_everything');
    for (const { name } of FIELD_TYPES.filter((type) => !NEVER_TAKEN_ALONG.includes(type.name))) {
      const id = `a_${name.toLowerCase()}`;
      expect([name, arrived[id]]).toEqual([name, there[id]]);
      expect([name, arrived[id]]).not.toEqual([name, null]);
    }
  });

  test('goes into an empty cabinet only, whole or not at all', async () => {
    const zip = await cabinetZip(office.database.databases.app, 'quay');
    await expect(fillCabinet(office.database.databases, 'quay', actor, zip)).rejects.toThrow('goes into an empty one');
    await asActor(owner(), actor, (transaction) => createCabinet(transaction, 'half', 'Half'));
    const files = unzipSync(zip);
    const broken = {
      ...files,
      'data/stays.csv': strToU8(strFromU8(files['data/stays.csv'] as Uint8Array).replace('2026-08-19 10:00', 'soon')),
    };
    await expect(fillCabinet(office.database.databases, 'half', actor, zipSync(broken))).rejects.toThrow(
      'Stays, record 1, Departure',
    );
    const { rows } = await owner().raw(`SELECT count(*) AS n FROM fiche."table" WHERE cabinet = 'half'`);
    expect(rows[0].n).toBe(0);
  });

  test.each([
    ['no zip', strToU8('hello'), 'not a cabinet file'],
    ['another zip', zipSync({ 'x.txt': strToU8('x') }), 'no cabinet.json'],
    ['a definition that is none', zipSync({ 'cabinet.json': strToU8('{"format":"other"}') }), 'format'],
  ])('%s is refused with the reason', async (_what, bytes, words) => {
    await expect(fillCabinet(office.database.databases, 'other', actor, bytes)).rejects.toThrow(words);
  });

  test('comes and goes over HTTP; a page whose address is taken here is kept as a draft, and said', async () => {
    const stranger = await office.signIn('stranger');
    const zip = await office.app.inject({
      method: 'GET',
      url: '/api/cabinets/quay/export',
      headers: { cookie: (await signedIn('harbourmaster')).cookie },
    });
    expect(zip.headers['content-disposition']).toContain('Quay.zip');
    const filled = await stranger.send('/api/cabinets/other/cabinet-file?file=quay.zip', zip.rawPayload);
    expect(filled).toMatchObject({ status: 200, body: { tables: 7, forms: 2 } });
    expect(filled.body.notes).toEqual([expect.stringContaining('Another form has the address “arrival”')]);
    const clerk = await office.signIn('quayclerk');
    expect((await clerk.call('GET', '/api/cabinets/quay/export')).status).toBe(403);
    const { body } = await stranger.call('GET', '/api/cabinets/other/ledger?limit=3');
    expect(body.lines[0].through).toBe('Import of quay.zip');
  });

  test('has a published JSON Schema', async () => {
    const { body } = await office.anonymous.call('GET', '/api/schemas/cabinet-file.json');
    expect(body.properties.tables.items.properties.fields).toBeDefined();
  });
});

test('a table comes out as CSV: links by title, and nothing that a spreadsheet would run', async () => {
  const reply = await builder.call('GET', '/api/tables/quay_berths/export');
  const lines = (reply.text ?? '').replace('\ufeff', '').split('\r\n');
  expect(lines[0]).toBe('Number,Pontoon,Longest,Tags,Neighbours,Surveyed');
  expect(lines).toContain(`'=1+1,B,10,"""deep, wide""","A-2 of A, A-1 of A",2026-08-17 15:30`);
  expect(lines.join()).not.toContain('A-9');
});

describe('records as a file', () => {
  const listing = { columns: [{ path: 'note' }, { path: 'harbour' }], sort: [{ path: 'note', direction: 'up' }] };
  const order = (more: object = {}, who = builder) =>
    who.call('POST', '/api/tables/quay_stays/exports', { listing, ...more });
  const file = (id: string, who = builder) => who.call('GET', `/api/tables/quay_stays/exports/${id}/file`);
  const state = async (id: string) => (await builder.call('GET', `/api/tables/quay_stays/exports/${id}`)).body;

  test('is ordered, downloaded once, and tells how far it is', async () => {
    const { body } = await order({ format: 'jsonl', name: 'Notes' });
    expect(body).toMatchObject({ total: expect.any(Number), done: 0, state: 'waiting' });
    const { text = '' } = await file(body.id);
    expect(text.trim().split('\n')).toHaveLength(body.total);
    await expect.poll(() => state(body.id)).toMatchObject({ done: body.total, state: 'done' });
    expect((await file(body.id)).status).toBe(409);
  });

  test('belongs to who asked for it, and is not written once it is cancelled', async () => {
    const { body } = await order();
    const clerk = await office.signIn('quayclerk');
    expect((await file(body.id, clerk)).status).toBe(404);
    expect((await builder.call('DELETE', `/api/tables/quay_stays/exports/${body.id}`)).body.state).toBe('cancelled');
    expect((await file(body.id)).status).toBe(409);
    expect(await state(body.id)).toMatchObject({ state: 'cancelled', done: 0 });
  });

  test('has links by number beside each record’s own number, so that other tables can be joined to it', async () => {
    const rows = await builder.call('GET', '/api/tables/quay_berths/export?format=json&links=numbers');
    const third = JSON.parse(rows.text ?? '').find((one: { number: string }) => one.number === '=1+1');
    expect(third).toMatchObject({ record_number: 3, pontoon: 2, neighbours: [2, 1], longest: 10 });
  });

  test.each(['csv', 'xlsx', 'json', 'jsonl', 'xml'] as const)(
    'of every type of field comes back the same by import: %s',
    async (format) => {
      const { tables } = await loadDefinitions(office.services.databases.app);
      const fields = (tables.get('quay_everything')?.fields ?? []).filter((field) => !isGiven(field));
      const wanted = { columns: fields.map(({ id }) => ({ path: id })) };
      const url = `/api/tables/quay_everything/rows/export?format=${format}&listing=${encodeURIComponent(JSON.stringify(wanted))}`;
      const { rawPayload } = await office.app.inject({ url, headers: await signedIn('harbourmaster') });
      const { body: received } = await builder.send(`/api/cabinets/quay/imports?file=all.${format}`, rawPayload);
      const names =
        format === 'csv' || format === 'xlsx' ? fields.map((one) => one.label) : fields.map((one) => one.id);
      const columns = fields.map((one, at) => ({
        name: names[at],
        at,
        to: { kind: 'field', field: one.id },
        matchOn: targetTable(one) === undefined ? null : 'name',
      }));
      const plan = {
        reading: { kind: format },
        into: { kind: 'table', table: 'quay_everything' },
        columns,
        key: ['a_text'],
        missing: 'skip',
      };
      const before = await owner()('data.quay_everything').first();
      const import_ = `/api/cabinets/quay/imports/${received.id}`;
      const begun = await builder.call('POST', `${import_}/check`, { plan });
      expect(begun.status, JSON.stringify(begun.body)).toBe(200);
      await office.services.tasks.idle();
      expect((await builder.call('GET', `${import_}/bad-rows`)).body.rows).toEqual([]);
      const { body: task } = await builder.call('GET', `/api/cabinets/quay/tasks/${begun.body.id}`);
      expect(task.outcome).toMatchObject({ rows: 1, change: 1, bad: 0 });
      await builder.call('POST', `${import_}/run`, { rows: 'all' });
      await office.services.tasks.idle();
      // A change that changes nothing falls away: not even the version is another.
      expect(await owner()('data.quay_everything').first()).toEqual(before);
    },
  );

  test('as a calendar wants a date to begin on', async () => {
    const refused = await order({ format: 'ics' });
    expect([refused.status, refused.body.errors[0].path]).toEqual([422, 'begins']);
    expect((await order({ format: 'ics', begins: 'note' })).body.errors[0].message).toContain('is no date');
    const { body } = await order({ format: 'ics', begins: 'departure' });
    expect((await file(body.id)).text).toContain('DTSTART:20260819T100000Z');
  });

  test('that is broken off leaves no connection behind', async () => {
    const { databases } = office.services;
    const { tables } = await loadDefinitions(databases.app);
    const table = tables.get('quay_harbours') as TableDefinition;
    const settings = exportSettingsSchema.parse({ format: 'csv' });
    const query = { listing: plainListing(table), search: '', archived: 'no' as const };
    const reader = { asking: { account: 'harbourmaster', now: '2027-03-01T10:15' }, limit: null };
    const file = { table, tables, query, settings, title: 'Harbours', publicUrl: '' };
    // More of them than there are connections: a reader that goes, and a file that fails while it is written.
    for (let n = 0; n < 5; n++) {
      for await (const part of writeFile(databases.exports, file, reader)) if (part) break;
      const broken = writeFile(databases.exports, file, reader, () => Promise.reject(new Error('cancelled')));
      const read = async (): Promise<void> => {
        for await (const part of broken) expect(part).toBeDefined();
      };
      await expect(read()).rejects.toThrow('cancelled');
    }
    expect((await builder.call('GET', '/api/tables/quay_harbours/export')).status).toBe(200);
  });

  test('is as one moment sees it, however many records are added meanwhile', async () => {
    const { databases } = office.services;
    const { tables } = await loadDefinitions(databases.app);
    const table = tables.get('quay_harbours') as TableDefinition;
    await asActor(owner(), actor, (write) =>
      write.raw(`INSERT INTO data.quay_harbours (name) SELECT 'Cove ' || n FROM generate_series(1, 2500) n`),
    );
    const settings = exportSettingsSchema.parse({ format: 'jsonl' });
    const query = { listing: plainListing(table), search: '', archived: 'no' as const };
    const reader = { asking: { account: 'harbourmaster', now: '2027-03-01T10:15' }, limit: null };
    let rows = 0;
    const records = { table, tables, query, settings, title: 'Harbours', publicUrl: '' };
    for await (const part of writeFile(databases.exports, records, reader)) {
      if (rows === 0)
        await asActor(owner(), actor, (write) =>
          write.raw("UPDATE data.quay_harbours SET archived_at = now() WHERE name LIKE 'Cove%'"),
        );
      rows += String(part).trim().split('\n').length;
    }
    expect(rows).toBe(2_502);
  });
});

describe('a private calendar address', () => {
  const what = {
    label: 'Departures',
    listing: { columns: [{ path: 'note' }], sort: [] },
    begins: 'departure',
  };
  const url = '/api/tables/quay_stays/calendars';

  test('is read by whoever has it, tells what its account sees now, and nothing once it is revoked', async () => {
    const clerk = await office.signIn('quayclerk');
    const { body } = await clerk.call('POST', url, what);
    const path = new URL(body.address).pathname;
    const { text } = await office.anonymous.call('GET', path);
    expect(text).toContain('NAME:Departures');
    expect(text?.match(/BEGIN:VEVENT/g)).toHaveLength(1);
    expect((await clerk.call('GET', url)).body.calendars).toMatchObject([{ label: 'Departures', dates: 'Departure' }]);
    // Others neither see it nor revoke it.
    expect((await builder.call('GET', url)).body.calendars).toEqual([]);
    expect((await builder.call('DELETE', `${url}/${body.id}`)).status).toBe(404);
    const ledger = (await builder.call('GET', '/api/cabinets/quay/ledger?table=quay_stays')).body.lines;
    expect(ledger[0]).toMatchObject({ what: 'Calendar address', account: 'quayclerk' });
    expect(JSON.stringify(ledger)).not.toContain(path.split('/').at(-1)?.replace('.ics', ''));
    expect((await clerk.call('DELETE', `${url}/${body.id}`)).status).toBe(200);
    const gone = await office.anonymous.call('GET', path);
    expect([gone.status, gone.body.detail]).toEqual([410, expect.stringContaining('it was revoked')]);
    expect((await office.anonymous.call('GET', '/api/calendars/guessed.ics')).status).toBe(404);
  });

  test('is of no use while its role works with a second factor only and its account has none', async () => {
    const clerk = await office.signIn('quayclerk');
    const { body } = await clerk.call('POST', url, what);
    const read = async () => (await office.anonymous.call('GET', new URL(body.address).pathname)).status;
    const { role } = await owner()('fiche.membership').where({ login: 'quayclerk' }).first('role');
    const demand = (secondFactor: boolean) =>
      asActor(owner(), actor, (write) =>
        write.raw(
          "UPDATE fiche.role SET reach = reach || jsonb_build_object('secondFactor', ?::boolean) WHERE cabinet = 'quay' AND id = ?",
          [secondFactor, role],
        ),
      );
    await demand(true);
    expect(await read()).toBe(410);
    await demand(false);
    expect(await read()).toBe(200);
  });

  test('is of no use once its account is of the cabinet no more', async () => {
    const clerk = await office.signIn('quayclerk');
    const { body } = await clerk.call('POST', url, what);
    await asActor(owner(), actor, (write) => write('fiche.membership').where({ login: 'quayclerk' }).delete());
    const gone = await office.anonymous.call('GET', new URL(body.address).pathname);
    expect([gone.status, gone.body.detail]).toEqual([410, expect.stringContaining('does not see these records')]);
  });

  test('wants a date', async () => {
    const { status, body } = await builder.call('POST', url, { ...what, begins: 'note' });
    expect([status, body.errors[0].path]).toEqual([422, 'begins']);
  });
});
