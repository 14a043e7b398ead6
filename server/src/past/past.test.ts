import { all, is } from '@fiche/core/conditions';
import type { TableDefinition } from '@fiche/core/tables';
import { plainListing } from '@fiche/core/views';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { addLimitedRoles } from '../fixtures/limitedRoles.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { verifyLedger } from '../history/index.ts';

let office: TestOffice;
let builder: Client;
const owner = () => office.database.databases.owner;

/** Writes, and gives a moment after it. */
const write = async (sql: string, ...values: unknown[]): Promise<string> => {
  await asActor(owner(), { name: 'quayclerk', through: { kind: 'seed', label: 'test' } }, (transaction) =>
    transaction.raw(sql, values as string[]),
  );
  return now();
};
/** The moment of the last line: what is written next is later, whatever the clocks of two connections say. */
const now = async (): Promise<string> =>
  (await owner().raw("SELECT to_json(max(at))#>>'{}' AS now FROM ledger.line")).rows[0].now;
const record = (id: number, moment: string, who = builder, table = 'quay_stays') =>
  who.call('GET', `/api/tables/${table}/records/${id}/as-of?at=${encodeURIComponent(moment)}`);
const valuesOf = (body: { record: { values: { field: string; value: string }[] } }) =>
  Object.fromEntries(body.record.values.map((one) => [one.field, one.value]));
const list = async (asOf: string, more: object = {}, who = builder, how: object = {}) => {
  const table = (await loadDefinitions(owner())).tables.get('quay_stays');
  if (!table) throw new Error('There are no stays');
  const listing = { ...plainListing(table), ...more };
  return who.call('POST', '/api/tables/quay_stays/rows', { listing, asOf, ...how });
};

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office);
  builder = await office.signIn('harbourmaster');
  await write("INSERT INTO data.quay_harbours (name) VALUES ('Skerry Haven')");
});
afterAll(async () => {
  expect((await verifyLedger(owner())).misfits).toEqual([]);
  await office.close();
});

/** Adds a stay in the third harbour; gives its number and a moment after it. */
const add = async (note: string): Promise<{ id: number; at: string }> => {
  const at = await write(
    "INSERT INTO data.quay_stays (harbour, note) SELECT id, ? FROM data.quay_harbours WHERE name LIKE 'Skerry%'",
    note,
  );
  return { id: Number((await owner()('data.quay_stays').max('id as id').first())?.id), at };
};

describe('a record as of a moment', () => {
  test('is what its row was at every version, whatever was written', async () => {
    const change = fc.record(
      {
        note: fc.option(
          fc.string({ maxLength: 12 }).filter((text) => text.trim() === text && text !== '' && !text.includes('\0')),
          { nil: null },
        ),
        persons: fc.option(fc.integer({ min: 1, max: 40 }), { nil: null }),
        arrival: fc.option(fc.constantFrom('2026-03-04T10:00', '2026-03-05T11:30'), { nil: null }),
        length: fc.option(fc.constantFrom(6, 7.5, 11.2), { nil: null }),
      },
      { requiredKeys: [] },
    );
    await fc.assert(
      fc.asyncProperty(fc.array(change, { minLength: 1, maxLength: 6 }), async (changes) => {
        const { id } = await add('first');
        const rows: { at: string; row: Record<string, unknown> }[] = [];
        const keep = async () => {
          const { rows: now } = await owner().raw(
            "SELECT version, note, persons, length, arrival::text AS arrival, to_json(changed_at)#>>'{}' AS at FROM data.quay_stays WHERE id = ?",
            [id],
          );
          rows.push({ at: now[0].at, row: now[0] });
        };
        await keep();
        for (const one of changes) {
          const columns = Object.keys(one);
          if (columns.length === 0) continue;
          const set = columns.map((name) => `${name} = ?`).join(', ');
          await write(`UPDATE data.quay_stays SET ${set} WHERE id = ?`, ...Object.values(one), id);
          await keep();
        }
        const told = (await builder.call('GET', `/api/tables/quay_stays/records/${id}/history`)).body.lines;
        // As it stood after each save, by the moment that its line tells.
        for (const [n, line] of [...told].reverse().entries())
          expect((await record(id, line.at)).body.record.version).toBe(n + 1);
        for (const { at: moment, row } of rows) {
          const { body } = await record(id, moment);
          expect(body.record).toMatchObject({ version: row.version, archived: false });
          const listed = (
            await list(moment, {
              filter: all(
                is({ kind: 'column', path: 'number' }, { kind: 'constant', value: valuesOf(body).number ?? '' }),
              ),
            })
          ).body;
          expect(listed.records).toHaveLength(1);
          expect(listed.records[0]).toMatchObject({
            version: row.version,
            values: {
              note: row.note,
              persons: row.persons,
              length: row.length,
              arrival: row.arrival === null ? null : String(row.arrival).replace(' ', 'T').slice(0, 16),
            },
          });
        }
      }),
      { numRuns: 12 },
    );
  });

  test('has the titles and the values of linked records of then, was not there before, and is archived from when it was', async () => {
    const early = await now();
    const { id, at: added } = await add('Storm');
    const named = await write("UPDATE data.quay_harbours SET name = 'Skerry Harbour' WHERE name = 'Skerry Haven'");
    const gone = await write('UPDATE data.quay_stays SET archived_at = now() WHERE id = ?', id);
    expect(valuesOf((await record(id, added)).body)).toMatchObject({ harbour: 'Skerry Haven', note: 'Storm' });
    expect(valuesOf((await record(id, named)).body).harbour).toBe('Skerry Harbour');
    expect((await record(id, gone)).body.record.archived).toBe(true);
    expect((await record(id, early)).body).toEqual({ record: null, since: expect.stringMatching(/^20/) });
    const haven = { kind: 'constant', value: 'Skerry Haven' } as const;
    const titled = async (moment: string) => {
      const filter = all(is({ kind: 'column', path: 'harbour.name' }, haven));
      return (await list(moment, { filter })).body.records.map((one: { id: number }) => one.id);
    };
    expect(await titled(added)).toContain(id);
    expect(await titled(named)).toEqual([]);
    await write("UPDATE data.quay_harbours SET name = 'Skerry Haven' WHERE name = 'Skerry Harbour'");
  });

  test('has the fields of then: with another label, another type, out of use, or not made yet', async () => {
    const { id, at: older } = await add('before crew');
    const field = { label: 'Crew', type: 'text' };
    expect((await builder.call('POST', '/api/tables/quay_stays/fields', { field })).status).toBe(200);
    await write("UPDATE data.quay_stays SET crew = '4' WHERE id = ?", id);
    const asText = await now();
    await builder.call('PATCH', '/api/tables/quay_stays/fields/crew', { label: 'Hands' });
    await builder.call('POST', '/api/tables/quay_stays/fields/crew/type', { type: 'wholeNumber' });
    await office.services.tasks.idle();
    const asNumber = await now();
    await builder.call('POST', '/api/tables/quay_stays/fields/crew/retire', {});
    const shown = async (moment: string) =>
      (await record(id, moment)).body.record.values.filter((one: { field: string }) => one.field === 'crew');
    expect(await shown(asText)).toEqual([{ field: 'crew', label: 'Crew', value: '4', numeric: false }]);
    expect(await shown(asNumber)).toEqual([{ field: 'crew', label: 'Hands', value: '4', numeric: true }]);
    expect(await shown(await now())).toEqual([]);
    expect(valuesOf((await record(id, older)).body)).not.toHaveProperty('crew');
  });

  test('keeps to today’s rights: records that are seen today, fields that are not hidden today', async () => {
    const { id, at: added } = await add('Secret note');
    const blind = await office.signIn('theblind');
    expect(valuesOf((await record(id, added, blind)).body)).not.toHaveProperty('note');
    const ranged = await office.signIn('theranged');
    expect((await record(id, added, ranged)).status).toBe(404);
    const listed = async () => (await list(added, {}, ranged)).body.records.map((one: { id: number }) => one.id);
    expect(await listed()).not.toContain(id);
    // It comes into the first harbour: then its past is seen too.
    await write('UPDATE data.quay_stays SET harbour = 1 WHERE id = ?', id);
    expect(await listed()).toContain(id);
    expect(valuesOf((await record(id, added, ranged)).body)).toMatchObject({
      note: 'Secret note',
      harbour: 'Skerry Haven',
    });
  });

  test('does not bring back what was erased, and says what is no moment', async () => {
    const { id, at: added } = await add('Private');
    await builder.call('POST', `/api/tables/quay_stays/records/${id}/archive`, { version: 1 });
    const erased = await builder.call('DELETE', `/api/tables/quay_stays/records/${id}`, {
      version: 2,
      reason: 'asked for by the person',
    });
    expect(erased.status, JSON.stringify(erased.body)).toBe(200);
    expect((await record(id, added)).status).toBe(404);
    expect((await list(added)).body.records.map((one: { id: number }) => one.id)).not.toContain(id);
    const { id: other } = await add('Other');
    for (const [moment, message] of [
      ['2026-13-01T10:00', 'This is no moment.'],
      ['yesterday at noon', 'This is no moment.'],
      ['2999-01-01T10:00', 'This moment is still to come.'],
      ['2020-01-01T10:00', 'Stays was made later than that.'],
    ] as const) {
      const { status, body } = await record(other, moment);
      expect([status, body.detail]).toEqual([422, expect.stringContaining(message)]);
      expect((await list(moment)).status).toBe(422);
    }
  });

  test('has the lines of a form as they stood then, those too that have moved since', async () => {
    const made = await builder.call('POST', '/api/tables/quay_stays/lines', { label: 'Services' });
    expect(made.status, JSON.stringify(made.body)).toBe(200);
    const lines = 'quay_services';
    const link = (await owner()('fiche.field').where({ table_id: lines, type: 'link' }).first()).id as string;
    const [{ id: one }, { id: other }] = [await add('one'), await add('other')];
    const before = await write(`INSERT INTO data.${lines} (${link}) VALUES (?)`, one);
    await write(`UPDATE data.${lines} SET ${link} = ?`, other);
    const form = await builder.call('POST', '/api/cabinets/quay/forms', {
      table: 'quay_stays',
      label: 'With services',
      fields: 'all',
    });
    const formId = form.body.id as string;
    const draft = (await builder.call('GET', `/api/forms/${formId}/draft`)).body;
    const section = draft.definition.sections[0];
    section.items.push({ kind: 'subform', id: 'services', table: lines, link, fields: [] });
    const saved = await builder.call('PUT', `/api/forms/${formId}/draft`, {
      definition: draft.definition,
      revision: draft.revision,
    });
    expect(saved.status, JSON.stringify(saved.body)).toBe(200);
    const linesOf = async (id: number, moment: string) =>
      (
        await builder.call(
          'GET',
          `/api/tables/quay_stays/records/${id}/as-of?form=${formId}&at=${encodeURIComponent(moment)}`,
        )
      ).body.record.lines[0]?.rows.length;
    expect([await linesOf(one, before), await linesOf(other, before)]).toEqual([1, 0]);
    expect([await linesOf(one, await now()), await linesOf(other, await now())]).toEqual([0, 1]);
  });
});

describe('a list as of a moment', () => {
  test('is searched, counted, sorted and exported as it stood', async () => {
    const { id, at: added } = await add('Guillemot colony');
    const renamed = await write("UPDATE data.quay_stays SET note = 'Razorbill' WHERE id = ?", id);
    const found = async (search: string, asOf: string) => {
      const table = (await loadDefinitions(owner())).tables.get('quay_stays');
      if (!table) throw new Error('There are no stays');
      const { body } = await builder.call('POST', '/api/tables/quay_stays/rows', {
        listing: plainListing(table),
        asOf,
        search,
      });
      return [body.total, body.records.map((one: { id: number }) => one.id)];
    };
    expect(await found('Guillemot', added)).toEqual([1, [id]]);
    expect(await found('Guillemot', renamed)).toEqual([0, []]);
    const table = (await loadDefinitions(owner())).tables.get('quay_stays');
    if (!table) throw new Error('There are no stays');
    const listing = encodeURIComponent(
      JSON.stringify({ ...plainListing(table), sort: [{ path: 'note', direction: 'down' }] }),
    );
    const csv = await builder.call(
      'GET',
      `/api/tables/quay_stays/rows/export?listing=${listing}&asOf=${encodeURIComponent(added)}`,
    );
    expect([csv.status, csv.text?.includes('Guillemot colony'), csv.text?.includes('Razorbill')]).toEqual([
      200,
      true,
      false,
    ]);
  });

  test('has the columns of then: a field that is out of use now, another name, the values of another type', async () => {
    const field = (label: string, type: string) =>
      builder.call('POST', '/api/tables/quay_stays/fields', { field: { label, type } });
    for (const [label, type] of [
      ['Draught', 'text'],
      ['Mooring line', 'text'],
    ] as const)
      expect((await field(label, type)).status).toBe(200);
    const { id } = await add('Turnstone');
    const before = await write("UPDATE data.quay_stays SET draught = '2', mooring_line = 'double' WHERE id = ?", id);
    const at = '/api/tables/quay_stays/fields';
    const { revision } = (await loadDefinitions(owner())).tables.get('quay_stays') as TableDefinition;
    const numbered = { type: 'decimal', settings: { places: 1 }, revision };
    expect((await builder.call('POST', `${at}/draught/type`, numbered)).status).toBe(200);
    expect((await builder.call('PATCH', `${at}/draught`, { label: 'Depth below' })).status).toBe(200);
    expect((await builder.call('POST', `${at}/mooring_line/retire`)).status).toBe(200);
    const definedAt = async (moment: string, who = builder): Promise<TableDefinition> => {
      const { body } = await who.call('GET', `/api/cabinets/quay/as-of?at=${encodeURIComponent(moment)}`);
      return body.tables.find((one: TableDefinition) => one.id === 'quay_stays');
    };
    const then = await definedAt(before);
    const told = then.fields.flatMap(({ id: of, label, type }) =>
      /draught|mooring/.test(of) ? `${label}: ${type}` : [],
    );
    expect(told).toEqual(['Draught: text', 'Mooring line: text']);
    expect((await definedAt('now')).fields.map((one) => one.label)).not.toContain('Mooring line');
    const listing = plainListing(then);
    const { body } = await builder.call('POST', '/api/tables/quay_stays/rows', {
      listing,
      asOf: before,
      search: 'Turnstone',
    });
    expect(body.records[0].values).toMatchObject({ draught: '2', mooring_line: 'double', note: 'Turnstone' });
    const today = await builder.call('POST', '/api/tables/quay_stays/rows', { listing });
    expect([today.status, JSON.stringify(today.body.errors)]).toEqual([
      422,
      expect.stringContaining('listing.columns'),
    ]);
    // A view of today shows what of it was there then; one whose filter reads what was not says so.
    expect((await field('Rafted', 'yesNo')).status).toBe(200);
    const view = async (more: object) =>
      (
        await builder.call('POST', '/api/tables/quay_stays/views', {
          definition: { label: 'Rafted', shared: false, ...plainListing(await definedAt('now')), ...more },
        })
      ).body.id;
    const viewed = (id: number) =>
      builder.call('GET', `/api/tables/quay_stays/views/${id}/records?asOf=${encodeURIComponent(before)}`);
    expect((await viewed(await view({}))).status).toBe(200);
    const filter = all(is({ kind: 'column', path: 'rafted' }, { kind: 'constant', value: true }));
    expect(await viewed(await view({ filter }))).toMatchObject({
      status: 422,
      body: { detail: expect.stringContaining('was not there then') },
    });
    const csv = await builder.call(
      'GET',
      `/api/tables/quay_stays/export?format=csv&asOf=${encodeURIComponent(before)}`,
    );
    expect(csv.text?.split('\n')[0]).toMatch(/Draught.*Mooring line/);
  });

  test('of which thousands have changed since is read from a table of its own, which an erasure drops', async () => {
    await write("INSERT INTO data.quay_stays (harbour, note) SELECT 1, 'many ' || n FROM generate_series(1, 5100) n");
    const before = await now();
    await write("UPDATE data.quay_stays SET note = 'changed' WHERE note LIKE 'many %'");
    const filter = all({
      kind: 'compare',
      left: { kind: 'column', path: 'note' },
      operator: 'isNot',
      right: { kind: 'constant', value: 'changed' },
    });
    const sort = [{ path: 'note', direction: 'up' as const }];
    const made = async () => (await owner()('fiche.past_snapshot').where({ table_id: 'quay_stays' })).length;
    // Those entered last can be read before all are added up; they are not counted then.
    const early = (await list(before, {}, builder, { early: true })).body;
    expect([early.records.length, early.total, await made()]).toEqual([50, null, 0]);
    expect((await list(before, { sort }, builder, { early: true })).body.total).toBeGreaterThanOrEqual(5_100);
    const whole = (await list(before, {}, builder, { early: true })).body;
    expect({ ...whole, total: null, summaries: null }).toEqual(early);
    expect((await list(before, {}, builder, { early: true, after: early.after })).body.records).toHaveLength(50);
    const first = (await list(before, { filter, sort })).body;
    expect(first.total).toBeGreaterThanOrEqual(5_100);
    expect(first.records.some((one: { values: { note: string } }) => one.values.note === 'many 1')).toBe(true);
    expect(await made()).toBe(1);
    expect((await list(before, { filter, sort })).body.total).toBe(first.total);
    expect(await made()).toBe(1);
    // A crash of the database empties a table that is not logged: it is made again.
    const { name } = await owner()('fiche.past_snapshot').first();
    await owner().raw(`TRUNCATE staging."${name}"`);
    expect((await list(before, { filter, sort })).body.total).toBe(first.total);
    // By today’s rights: who sees the second harbour only finds none of them.
    const ranged = await office.signIn('theranged');
    const seen = (await list(before, { filter }, ranged)).body;
    expect([seen.total, first.total > seen.total]).toEqual([expect.any(Number), true]);
    const { id } = await owner()('data.quay_stays').where({ note: 'changed' }).orderBy('id').first();
    await builder.call('POST', `/api/tables/quay_stays/records/${id}/archive`, { version: 2 });
    await builder.call('DELETE', `/api/tables/quay_stays/records/${id}`, { version: 3, reason: 'asked for' });
    expect(await made()).toBe(0);
    expect((await list(before, { filter, sort })).body.total).toBe(first.total - 1);
  });
});
