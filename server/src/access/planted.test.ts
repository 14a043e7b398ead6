import { randomUUID } from 'node:crypto';
import { all, type Group, is } from '@fiche/core/conditions';
import { COMMON_SHEETS } from '@fiche/core/labels';
import { type Extent, everyAction, type FieldLimit, type RoleDefinition, type TableRights } from '@fiche/core/rights';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { asActor, type Transaction } from '../database/index.ts';
import { findRole, touchCabinet, writeRole } from '../definitions/index.ts';
import { addLimitedRoles, READS } from '../fixtures/limitedRoles.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

/**
 * Values that stand nowhere else are planted in every record; whatever a role hides, none of what it hides may stand in
 * any answer. What is hidden is worked out here from the role and the records, not by the code under test.
 */
interface Planted {
  readonly table: string;
  readonly id: number;
  readonly field: string;
  readonly word: string;
}
interface Row {
  readonly table: string;
  readonly id: number;
  readonly harbour: number | null;
  readonly by: string;
}

/** The text fields of each table, and how a record tells its harbour. */
const FIELDS: Readonly<Record<string, readonly string[]>> = {
  quay_harbours: ['name'],
  quay_berths: ['number', 'secret'],
  quay_vessels: ['name', 'registration'],
  quay_stays: ['registration', 'note'],
};
/** Columns behind the links of a table. */
const BEHIND: Readonly<Record<string, readonly string[]>> = {
  quay_stays: [
    'vessel.name',
    'vessel.registration',
    'berth.secret',
    'harbour.name',
    'berth.number',
    'berth.pontoon.harbour.name',
  ],
};
const PEOPLE = ['theguest', 'harbourmaster'];

let office: TestOffice;
let guest: Client;
const planted: Planted[] = [];
const rows: Row[] = [];
/** Shared views with every column. */
const views: number[] = [];

const asOwner = <T>(work: (owner: Transaction) => Promise<T>, by = 'harbourmaster') =>
  asActor(office.database.databases.owner, { name: by, through: { kind: 'seed', label: 'test' } }, work);

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office, { guest: { ...open, label: 'Guest' } });
  guest = await office.signIn('theguest');
  let n = 0;
  const plant = async (table: string, by: string, links: Record<string, number>): Promise<void> => {
    const fields = FIELDS[table] ?? [];
    const words = fields.map(() => `zq${(n++).toString(36)}w${randomUUID().slice(0, 8)}`);
    const values = { ...Object.fromEntries(fields.map((field, at) => [field, `${words[at]}first`])), ...links };
    const { rows: made } = await asOwner(
      (owner) =>
        owner.raw<{ rows: { id: number }[] }>(
          `INSERT INTO data.${table} (${Object.keys(values).join(', ')}) VALUES (${Object.keys(values).map(() => '?')}) RETURNING id`,
          Object.values(values) as string[],
        ),
      by,
    );
    const id = made[0]?.id ?? 0;
    rows.push({ table, id, harbour: links.harbour ?? null, by });
    for (const [at, field] of fields.entries()) planted.push({ table, id, field, word: words[at] ?? '' });
  };
  for (const by of PEOPLE) {
    await plant('quay_harbours', by, {});
    await plant('quay_vessels', by, {});
    await plant('quay_berths', by, { pontoon: 1 });
  }
  for (const by of PEOPLE)
    for (const harbour of [1, 2])
      for (const at of [0, 1])
        await plant('quay_stays', by, {
          harbour,
          berth: idsOf('quay_berths')[at] ?? 0,
          vessel: idsOf('quay_vessels')[at] ?? 0,
        });
  // Changes, so that a history has lines with a value before and after.
  for (const { table, id } of rows)
    for (const field of FIELDS[table] ?? [])
      for (const value of [`${field} || 'x'`, `left(${field}, -1)`, `replace(${field}, 'first', '')`])
        await asOwner((owner) => owner.raw(`UPDATE data.${table} SET ${field} = ${value} WHERE id = ?`, [id]));
  // The guest watches every record, is told of every record, and the outbox has a mail about each.
  for (const { table, id } of rows) {
    const about = JSON.stringify([{ table, record: id }]);
    const words = planted.filter((one) => one.table === table && one.id === id).map((one) => one.word);
    await office.database.databases.owner.raw(
      `WITH watched AS (INSERT INTO fiche.watch (table_id, record, login) VALUES (?, ?, 'theguest')),
         told AS (INSERT INTO fiche.notice (login, cabinet, kind, by, table_id, record) VALUES ('theguest', 'quay', 'assigned', 'auditor', ?, ?))
       INSERT INTO fiche.message (cabinet, kind, address, subject, body, about, state) VALUES ('quay', 'notices', 'a@b.example', ?, ?, ?, 'kept')`,
      [table, id, table, id, words.join(' '), words.join(' '), about],
    );
  }
  const builder = await office.signIn('harbourmaster');
  for (const table of Object.keys(FIELDS)) {
    const columns = [...(FIELDS[table] ?? []), ...(BEHIND[table] ?? [])].map((path) => ({ path }));
    const definition = { label: 'All', columns, sort: [{ ...columns[0], direction: 'up' }], shared: true };
    const view = await builder.call('POST', `/api/tables/${table}/views`, { definition });
    expect(view.status).toBe(200);
    views.push(view.body.id);
  }
  const made = await builder.call('POST', '/api/cabinets/quay/forms', {
    table: 'quay_vessels',
    label: 'Vessel card',
    subforms: ['quay_stays.vessel'],
  });
  expect((await builder.call('POST', `/api/forms/${made.body.id}/publish`, { revision: 1 })).status).toBe(200);
});
afterAll(() => office.close());

const idsOf = (table: string): number[] => rows.filter((row) => row.table === table).map((row) => row.id);

const open: RoleDefinition = {
  label: '',
  rights: [],
  history: 'seen',
  secondFactor: false,
  others: everyAction('all'),
  tables: {},
  closedForms: [],
};
const FIRST: Group = all(is({ kind: 'column', path: 'harbour' }, { kind: 'constant', value: 1 }));

const extent = (table: string): fc.Arbitrary<Extent> =>
  fc.constantFrom<Extent>('none', 'own', 'all', ...(table === 'quay_stays' ? [FIRST] : []));
const tableRights = (table: string): fc.Arbitrary<TableRights> =>
  fc
    .record({
      see: extent(table),
      export: extent(table),
      change: extent(table),
      fields: fc.dictionary(
        fc.constantFrom(...(FIELDS[table] ?? [])),
        fc.constantFrom<FieldLimit>('hidden', 'readOnly', 'hidden'),
      ),
    })
    .map((some) => ({ ...READS, add: 'all' as const, ...some, fields: { ...some.fields } }));
const anyRole: fc.Arbitrary<RoleDefinition> = fc
  .record({
    rights: fc.constantFrom<RoleDefinition['rights']>([], ['ledger'], ['people', 'ledger', 'outbox']),
    history: fc.constantFrom('none', 'own', 'seen'),
    tables: fc.record(Object.fromEntries(Object.keys(FIELDS).map((table) => [table, tableRights(table)]))),
  })
  .map((some) => ({ ...open, label: 'Guest', ...some }) as RoleDefinition);

/** Whether the guest sees a record, worked out from the role by hand. */
function sees(role: RoleDefinition, row: Row): boolean {
  const see = role.tables[row.table]?.see;
  if (see === 'own') return row.by === 'theguest';
  return see === 'all' || (typeof see === 'object' && row.harbour === 1);
}

const hiddenWords = (role: RoleDefinition): Planted[] =>
  planted.filter((one) => {
    const row = rows.find((other) => other.table === one.table && other.id === one.id);
    return !row || !sees(role, row) || role.tables[one.table]?.fields[one.field] === 'hidden';
  });

async function give(role: RoleDefinition): Promise<void> {
  await asOwner(async (owner) => {
    const before = await findRole(owner, 'quay', 'guest');
    await writeRole(owner, 'quay', { ...role, id: 'guest', revision: before?.revision ?? 1 });
    await touchCabinet(owner, 'quay');
  });
}

/** Everything that the guest can ask, with the answers as text. */
async function askEverything(hidden: readonly Planted[]): Promise<string> {
  const said: string[] = [];
  const ask = async (method: 'GET' | 'POST', url: string, body?: unknown): Promise<void> => {
    const { text = '' } = await guest.call(method, url, body, { 'idempotency-key': randomUUID() });
    // What was asked for is told by a refusal; it is not what an answer gives away.
    said.push(text);
  };
  for (const url of ['', '/overview', '/ledger?limit=200', '/accounts', '/roles', '/tasks', '/imports', '/messages'])
    await ask('GET', `/api/cabinets/quay${url}`);
  for (const url of ['/notices', '/watches']) await ask('GET', `/api/account${url}`);
  for (const table of Object.keys(FIELDS)) {
    const at = `/api/tables/${table}`;
    await ask('GET', `${at}/records?limit=200`);
    for (const how of ['', '?format=json&links=numbers']) await ask('GET', `${at}/export${how}`);
    await ask('POST', `${at}/compare`, { records: idsOf(table).slice(0, 20) });
    for (const field of FIELDS[table] ?? []) {
      const layout = { sheet: COMMON_SHEETS[0], lines: [{ text: `{${field}} {record}` }] };
      await ask('POST', `${at}/label-preview`, { listing: { columns: [{ path: field }] }, layout });
      await ask('POST', `${at}/duplicates`, { by: [{ field, how: 'exact' }] });
      const [first = 0, second = 0] = idsOf(table);
      const records = [first, second].map((id) => ({ id, version: 1 }));
      await ask('POST', `${at}/merges`, { do: 'look', plan: { stays: first, records, take: { [field]: second } } });
    }
    await ask('GET', `${at}/views`);
    for (const id of views)
      for (const what of ['records?limit=200', 'export']) await ask('GET', `${at}/views/${id}/${what}`);
    // All columns that there can be, refused ones one by one as well.
    const behind = BEHIND[table] ?? [];
    for (const paths of [...[...(FIELDS[table] ?? []), ...behind].map((path) => [path]), behind])
      for (const sort of [[], paths.slice(0, 1).map((path) => ({ path, direction: 'up' }))])
        await ask('POST', `${at}/rows`, { listing: { columns: paths.map((path) => ({ path })), sort }, limit: 200 });
    for (const field of FIELDS[table] ?? []) await ask('GET', `${at}/records?limit=200&sort=${field}&direction=up`);
    // What a change of many would do: a value, or what another field holds, into each field of every record.
    for (const field of FIELDS[table] ?? []) {
      const others = (FIELDS[table] ?? []).map((path) => ({ kind: 'field', path }));
      for (const becomes of [{ kind: 'value', value: 'mine' }, ...others]) {
        const what = { kind: 'set', set: [{ field, becomes }] };
        const begun = await guest.call('POST', `${at}/changes`, { what, records: { kind: 'some', ids: idsOf(table) } });
        said.push(begun.text ?? '');
        await office.services.tasks.idle();
        if (begun.status === 200) await ask('GET', `${at}/changes/${begun.body.id}`);
      }
    }
    for (let n = 1; n < 4; n++) await ask('GET', `${at}/at/${n}`);
    for (const id of idsOf(table)) {
      for (const what of [
        '',
        '?form=quay_check_in',
        '/history',
        '/history?form=quay_check_in',
        '/everything',
        '/linking',
      ])
        await ask('GET', `${at}/records/${id}${what}`);
      // Refused, as others have changed the same field since: the answer has the record as it is.
      for (const field of FIELDS[table] ?? [])
        await ask('POST', `${at}/entries`, { record: id, version: 1, values: { [field]: 'mine' } });
    }
  }
  for (const id of idsOf('quay_vessels'))
    for (const what of ['', '/history'])
      await ask('GET', `/api/tables/quay_vessels/records/${id}${what}?form=quay_vessel_card`);
  await ask('GET', '/api/forms/quay_vessel_card');
  await ask('GET', '/api/forms/quay_check_in');
  await ask('GET', '/api/forms/quay_check_in/records?limit=100');
  for (const base of ['/api/forms/quay_check_in', '/api/tables/quay_stays']) {
    for (const field of ['harbour', 'pontoon', 'berth', 'vessel']) {
      const values = { harbour: 1, pontoon: 1 };
      await ask('POST', `${base}/choices`, { field, values });
      await ask('POST', `${base}/why`, { field, values });
      const target = { harbour: 'quay_harbours', berth: 'quay_berths', vessel: 'quay_vessels' }[field];
      for (const id of target ? idsOf(target) : []) await ask('POST', `${base}/lookups`, { field, id });
    }
    for (const { word } of hidden.filter((one) => one.table === 'quay_vessels'))
      await ask('POST', `${base}/lookups`, { field: 'registration', key: word });
  }
  return said.join('\n');
}

test('no answer holds a value that the rights of a role hide', async () => {
  await fc.assert(
    fc.asyncProperty(anyRole, async (role) => {
      await give(role);
      const hidden = hiddenWords(role);
      const said = await askEverything(hidden);
      expect(hidden.filter(({ word }) => said.includes(word)).map(({ table, field }) => `${table}.${field}`)).toEqual(
        [],
      );
    }),
    { numRuns: 6 },
  );
}, 300_000);

test('a search finds nothing by a value that is hidden, and by the others what they stand in', async () => {
  await fc.assert(
    fc.asyncProperty(anyRole, async (role) => {
      await give(role);
      const hidden = new Set(hiddenWords(role).map((one) => one.word));
      for (const { table, id, word } of planted) {
        const listed = await guest.call('GET', `/api/tables/${table}/records?search=${word}`);
        const found = await guest.call('GET', `/api/cabinets/quay/find?words=${word}`);
        const column = FIELDS[table]?.[0] ?? '';
        const row = await guest.call('POST', `/api/tables/${table}/rows`, {
          listing: { columns: [{ path: column }] },
          search: word,
        });
        if (row.status === 200) expect(row.body.records).toHaveLength(hidden.has(word) ? 0 : 1);
        if (hidden.has(word)) {
          expect(listed.body.records ?? []).toEqual([]);
          expect(found.body.found).toEqual([]);
          // Neither does what links to it.
          const linking = await guest.call('GET', `/api/tables/quay_stays/records?search=${word}`);
          expect(linking.body.records ?? []).toEqual([]);
        } else expect(listed.body.records.map((one: { id: number }) => one.id)).toEqual([id]);
      }
    }),
    { numRuns: 6 },
  );
}, 300_000);
