import { all, is } from '@fiche/core/conditions';
import { plainListing } from '@fiche/core/views';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { addLimitedRoles } from '../fixtures/limitedRoles.ts';
import { type Answer, type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { verifyLedger } from '../history/index.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
const changes = '/api/tables/quay_stays/changes';
const owner = () => office.database.databases.owner;
const seed = { name: 'quayclerk', through: { kind: 'seed', label: 'test' } } as const;
const value = (field: string, to: unknown) => ({ field, becomes: { kind: 'value', value: to } });
const some = (...ids: number[]) => ({ kind: 'some', ids });
const everyStay = async (more: object = {}) => {
  const table = (await loadDefinitions(owner())).tables.get('quay_stays');
  if (!table) throw new Error('There are no stays');
  return { kind: 'all', listing: plainListing(table), ...more };
};
const set = (...settings: object[]) => ({ kind: 'set', set: settings });
/** The stays, by number: the columns of each. */
const stays = async (): Promise<Map<number, Record<string, unknown>>> =>
  new Map((await owner()('data.quay_stays').orderBy('id')).map((row) => [Number(row.id), row]));

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office);
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
});
afterAll(async () => {
  expect((await verifyLedger(owner())).misfits).toEqual([]);
  await office.close();
});
/** Eight stays in the first harbour and four in the second; the others are archived. */
beforeEach(() =>
  asActor(owner(), seed, async (write) => {
    await write.raw('UPDATE data.quay_stays SET archived_at = now() WHERE archived_at IS NULL');
    await write.raw(`INSERT INTO data.quay_stays (harbour, pontoon, berth, persons, arrival, departure, note)
      SELECT CASE WHEN n > 8 THEN 2 ELSE 1 END, CASE WHEN n <= 8 THEN 1 END, CASE WHEN n <= 8 THEN 1 + n % 2 END, n,
        '2026-08-01 12:00', '2026-08-09 10:00', 'stay ' || n FROM generate_series(1, 12) n`);
  }),
);

/** Plans a change and waits for its check; gives what was found. */
async function plan(body: object, who = builder): Promise<Answer> {
  const begun = await who.call('POST', changes, body);
  if (begun.status !== 200) return begun;
  await office.services.tasks.idle();
  return who.call('GET', `${changes}/${begun.body.id}`);
}

async function run(id: number, records: 'all' | 'good' = 'all', who = builder): Promise<Answer> {
  const begun = await who.call('POST', `${changes}/${id}/run`, { records });
  if (begun.status !== 200) return begun;
  await office.services.tasks.idle();
  return who.call('GET', `/api/cabinets/quay/tasks/${begun.body.id}`);
}

const inUse = async (): Promise<number[]> =>
  [...(await stays())].flatMap(([id, row]) => (row.archived_at === null ? [id] : []));

describe('a change of many', () => {
  test('is shown before it is written, record by record, and is one entry of the ledger that opens into its records', async () => {
    const { body } = await plan({ what: set(value('note', 'Storm'), value('persons', 3)), records: await everyStay() });
    expect(body).toMatchObject({
      state: 'checked',
      words: 'Note becomes Storm; Persons becomes 3',
      counts: { found: 12, change: 12, same: 0, refused: 0 },
    });
    expect(body.changed[0].changes).toEqual([
      { field: 'persons', label: 'Persons', before: '1', after: '3', was: 1 },
      { field: 'note', label: 'Note', before: 'stay 1', after: 'Storm', was: 'stay 1' },
    ]);
    expect((await run(body.id)).body).toMatchObject({ state: 'done', outcome: { change: 12 } });
    const rows = [...(await stays()).values()].filter((row) => row.archived_at === null);
    expect(new Set(rows.map((row) => `${row.note} ${row.persons} ${row.changed_by}`))).toEqual(
      new Set(['Storm 3 harbourmaster']),
    );
    const ledger = await builder.call('GET', '/api/cabinets/quay/ledger?limit=5');
    expect(ledger.body.lines[0]).toMatchObject({
      what: 'Change of many',
      title: 'Stays',
      change: { id: body.id, table: 'quay_stays' },
      changes: [{ after: 'Note becomes Storm; Persons becomes 3' }, { after: '12 changed' }],
    });
    const opened = await builder.call('GET', `/api/cabinets/quay/ledger?change=${body.id}&limit=50`);
    expect(opened.body.lines).toHaveLength(12);
    expect(opened.body.lines[0]).toMatchObject({ table: 'quay_stays', through: 'Stays, change of many' });
  });

  test('takes values from other fields, also behind links, from a calculation, or none', async () => {
    const ids = await inUse();
    const what = set(
      { field: 'length', becomes: { kind: 'field', path: 'berth.longest' } },
      { field: 'persons', becomes: { kind: 'calculation', source: 'persons + 10.0' } },
      { field: 'registration', becomes: { kind: 'field', path: 'harbour' } },
      { field: 'note', becomes: { kind: 'blank' } },
    );
    const wrong = await plan({ what, records: some(...ids) });
    expect([wrong.status, wrong.body.errors]).toEqual([
      422,
      [
        expect.objectContaining({
          path: 'what.set.2',
          message: expect.stringContaining('Choose a field of the same type'),
        }),
      ],
    ]);
    const { body } = await plan({
      what: { ...what, set: what.set.filter((_one, at) => at !== 2) },
      records: some(...ids),
    });
    await run(body.id);
    const after = await stays();
    expect(ids.map((id) => [after.get(id)?.length, after.get(id)?.persons, after.get(id)?.note])).toEqual(
      ids.map((_id, at) => [at >= 8 ? null : at % 2 === 0 ? 12 : 8, at + 11, null]),
    );
  });

  test('holds each record to its rules and limits; the good ones are written alone, or nothing is', async () => {
    const [first = 0, second = 0, ...others] = await inUse();
    await asActor(owner(), seed, (write) =>
      write('data.quay_stays').whereIn('id', [first, second]).update({ arrival: '2026-08-20T12:00', departure: null }),
    );
    const { body } = await plan({ what: set(value('departure', '2026-08-15T10:00')), records: await everyStay() });
    expect(body).toMatchObject({
      counts: { found: 12, change: 10, refused: 2 },
      refused: [{ record: first, problems: [{ field: 'Departure', message: 'Departure must be after arrival.' }] }, {}],
      reasons: [{ message: 'Departure must be after arrival.', count: 2 }],
    });
    expect((await run(body.id)).body).toMatchObject({ state: 'failed', message: expect.stringContaining('2 records') });
    expect((await stays()).get(others[0] ?? 0)?.departure).toBe('2026-08-09T10:00');
    expect((await run(body.id, 'good')).body).toMatchObject({ state: 'done', outcome: { change: 10, refused: 2 } });
    const after = await stays();
    expect([after.get(first)?.departure, after.get(others[0] ?? 0)?.departure]).toEqual([null, '2026-08-15T10:00']);
  });

  test('asks once for what a rule asks, and each line of history that needed it has the reason', async () => {
    const table = (await loadDefinitions(owner())).tables.get('quay_stays');
    const asks = {
      id: 'many',
      kind: 'ask',
      when: null,
      examples: [],
      at: 'persons',
      message: 'So many persons?',
      must: {
        kind: 'compare',
        left: { kind: 'form', path: 'persons' },
        operator: 'atMost',
        right: { kind: 'constant', value: 10 },
      },
    };
    await builder.call('PATCH', '/api/tables/quay_stays', { rules: [...(table?.rules ?? []), asks] });
    const what = set({ field: 'persons', becomes: { kind: 'calculation', source: 'persons + 1.0' } });
    const { body } = await plan({ what, records: await everyStay() });
    expect(body).toMatchObject({ counts: { change: 9, refused: 3 }, asked: [{ rule: 'many', count: 3 }], reasons: [] });
    const again = await plan({ what, records: await everyStay(), reasons: { many: 'Harbour day' } });
    expect(again.body.counts).toEqual({ found: 12, change: 12, same: 0, refused: 0 });
    await run(again.body.id);
    const { body: opened } = await builder.call('GET', `/api/cabinets/quay/ledger?change=${again.body.id}&limit=50`);
    const withReason = opened.lines.filter((line: { reasons: string[] }) => line.reasons.length > 0);
    expect(withReason.map((line: { reasons: string[] }) => line.reasons[0])).toEqual(
      Array(3).fill('“So many persons?” accepted with reason: Harbour day'),
    );
    await builder.call('PATCH', '/api/tables/quay_stays', { rules: table?.rules });
  });

  test('lets no two records have what is unique, and none take what another has', async () => {
    const vessels = '/api/tables/quay_vessels/changes';
    const begun = await builder.call('POST', vessels, {
      what: set(value('registration', 'GS-0001')),
      records: some(1, 2),
    });
    await office.services.tasks.idle();
    const { body } = await builder.call('GET', `${vessels}/${begun.body.id}`);
    expect(body).toMatchObject({
      counts: { change: 1, refused: 1 },
      refused: [{ problems: [{ message: expect.stringContaining('Another of these records gets the same') }] }],
    });
  });

  test('leaves a record as it is that somebody has changed since the check, and nothing where all or none was asked', async () => {
    const [first = 0, second = 0] = await inUse();
    const { body } = await plan({ what: set(value('note', 'Late')), records: some(first, second) });
    await asActor(owner(), seed, (write) => write('data.quay_stays').where({ id: first }).update({ persons: 7 }));
    expect((await run(body.id)).body).toMatchObject({ state: 'failed', message: expect.stringContaining('Check') });
    expect((await run(body.id, 'good')).body).toMatchObject({ outcome: { change: 1, refused: 1 } });
    const after = await stays();
    expect([after.get(first)?.note, after.get(second)?.note]).toEqual(['stay 1', 'Late']);
    expect((await run(body.id, 'good')).body.outcome).toMatchObject({ change: 1 });
  });

  test('archives and restores those that are not so yet', async () => {
    const ids = await inUse();
    const archive = await plan({ what: { kind: 'archive' }, records: some(...ids.slice(0, 5)) });
    await run(archive.body.id);
    expect(await inUse()).toEqual(ids.slice(5));
    const listing = (await everyStay()) as { listing: object };
    const restore = await plan({ what: { kind: 'restore' }, records: some(...ids) });
    expect(restore.body.counts).toEqual({ found: 12, change: 5, same: 7, refused: 0 });
    await run(restore.body.id);
    expect(await inUse()).toEqual(ids);
    const archived = await plan({ what: set(value('note', 'x')), records: { ...listing, archived: 'yes' } });
    expect(archived.body.reasons).toEqual([
      { message: 'It is archived. Restore it first.', count: archived.body.counts.found },
    ]);
  });
});

describe('putting back', () => {
  test('gives each record what it had, but for what others have changed since, whom it names', async () => {
    const [first = 0, second = 0, third = 0] = await inUse();
    const { body } = await plan({
      what: set(value('note', 'Wrong'), value('persons', 2)),
      records: some(first, second, third),
    });
    await run(body.id);
    await asActor(owner(), seed, async (write) => {
      await write('data.quay_stays').where({ id: first }).update({ note: 'Mended' });
      // Another field than those of the change stands against nothing.
      await write('data.quay_stays').where({ id: second }).update({ length: 5 });
    });
    const begun = await clerk.call('POST', `${changes}/${body.id}/put-back`, { reasons: {} });
    await office.services.tasks.idle();
    const back = await clerk.call('GET', `${changes}/${begun.body.id}`);
    expect(back.body).toMatchObject({
      words: 'put back as before',
      counts: { found: 3, change: 2, refused: 1 },
      refused: [{ record: first, problems: [{ message: 'quayclerk has changed Note since. It stays as it is.' }] }],
    });
    expect((await run(back.body.id, 'good', clerk)).body.state).toBe('done');
    const after = await stays();
    expect([first, second, third].map((id) => [after.get(id)?.note, after.get(id)?.persons])).toEqual([
      ['Mended', 2],
      ['stay 2', 2],
      ['stay 3', 3],
    ]);
  });

  test('brings archived records back; that is put back as well, and that', async () => {
    const ids = await inUse();
    const { body } = await plan({ what: { kind: 'archive' }, records: await everyStay() });
    await run(body.id);
    expect(await inUse()).toEqual([]);
    let last = body.id;
    for (const there of [ids, [], ids]) {
      const begun = await builder.call('POST', `${changes}/${last}/put-back`, { reasons: {} });
      await office.services.tasks.idle();
      last = begun.body.id;
      await run(last);
      expect(await inUse()).toEqual(there);
    }
  });
});

describe('under a role', () => {
  test('only records that are seen are found, and a field that is hidden or read-only is not set', async () => {
    const ranged = await office.signIn('theranged');
    const { body } = await plan({ what: set(value('note', 'Mine')), records: await everyStay() }, ranged);
    expect(body.counts).toMatchObject({ found: 8, change: 8 });
    await run(body.id, 'all', ranged);
    expect(
      [...(await stays()).values()].filter((row) => row.note === 'Mine').map((row) => Number(row.harbour)),
    ).toEqual(Array(8).fill(1));
    // A record that leaves one's range may still be changed as the role says: what is seen is what it was.
    const blind = await office.signIn('theblind');
    expect((await plan({ what: set(value('note', 'x')), records: some(1) }, blind)).status).toBe(403);
    expect((await plan({ what: set(value('persons', 2)), records: some(1) }, blind)).status).toBe(403);
    const auditor = await office.signIn('auditor');
    expect((await plan({ what: set(value('note', 'x')), records: some(1) }, auditor)).status).toBe(403);
  });

  test('a plan is its maker’s alone, and what it tells of records holds no hidden field', async () => {
    const { body } = await plan({ what: set(value('note', 'Secret')), records: some((await inUse())[0] ?? 0) });
    expect((await clerk.call('GET', `${changes}/${body.id}`)).status).toBe(404);
    expect((await clerk.call('POST', `${changes}/${body.id}/run`, { records: 'all' })).status).toBe(404);
    await run(body.id);
    const blind = await office.signIn('theblind');
    const begun = await blind.call('POST', `${changes}/${body.id}/put-back`, { reasons: {} });
    await office.services.tasks.idle();
    const told = await blind.call('GET', `${changes}/${begun.body.id}`);
    expect(JSON.stringify(told.body)).not.toMatch(/Secret|stay 1/);
  });

  test('rights that are withdrawn between check and writing stop it', async () => {
    const ranged = await office.signIn('theranged');
    const { body } = await plan({ what: set(value('persons', 4)), records: some((await inUse())[0] ?? 0) }, ranged);
    await asActor(owner(), seed, async (write) => {
      await write('fiche.membership').where({ login: 'theranged' }).update({ role: 'auditor' });
    });
    expect((await run(body.id, 'all', ranged)).body).toMatchObject({ state: 'failed' });
    expect((await stays()).get((await inUse())[0] ?? 0)?.persons).toBe(1);
    await asActor(owner(), seed, async (write) => {
      await write('fiche.membership').where({ login: 'theranged' }).update({ role: 'ranged' });
    });
  });

  test('a filter finds what it finds for its reader', async () => {
    const listing = await everyStay();
    const filter = all(is({ kind: 'column', path: 'harbour' }, { kind: 'constant', value: 2 }));
    const records = { ...listing, listing: { ...(listing as { listing: object }).listing, filter }, except: [] };
    const { body } = await plan({ what: set(value('note', 'x')), records }, await office.signIn('theranged'));
    expect(body.counts.found).toBe(0);
  });
});

describe('a pasted block', () => {
  const paste = (fields: string[], rows: [number, string[]][]) => ({
    what: { kind: 'paste', fields, rows },
    records: some(...rows.map(([id]) => id)),
  });

  test('gives each record its own values, as people write them, and its names the records that they mean', async () => {
    const ids = await inUse();
    const [a = 0, b = 0, c = 0] = ids;
    const berths = await builder.call('GET', '/api/tables/quay_berths/records?limit=50');
    const berth = berths.body.records.find((one: { values: { pontoon: number } }) => one.values.pontoon === 1);
    const { body } = await plan(
      paste(
        ['arrival', 'persons', 'berth', 'note'],
        [
          [a, ['5 Aug 2026 09:30', '4', berth.title, 'one']],
          [b, ['2026-08-06T10:00', '5', '', '  two ']],
          [c, ['2026-08-06T10:00', '6', '', '']],
        ],
      ),
    );
    expect(body).toMatchObject({
      words: 'pasted into Arrival, Persons, Berth, Note',
      counts: { found: 3, change: 3, same: 0, refused: 0 },
    });
    expect((await run(body.id)).body).toMatchObject({ state: 'done', outcome: { change: 3 } });
    const after = await stays();
    expect([a, b, c].map((id) => [after.get(id)?.persons, after.get(id)?.berth, after.get(id)?.note])).toEqual([
      [4, berth.id, 'one'],
      [5, null, 'two'],
      [6, null, null],
    ]);
    // Its texts are in the histories of the records only.
    const { rows } = await owner().raw('SELECT what FROM fiche.change WHERE id = ?', [body.id]);
    expect(rows[0].what.what.rows).toEqual([]);
    const back = await builder.call('POST', `${changes}/${body.id}/put-back`, { reasons: {} });
    await office.services.tasks.idle();
    await run(back.body.id);
    expect((await stays()).get(a)).toMatchObject({ persons: 1, note: 'stay 1' });
  });

  test('refuses what cannot be read, is not called so or breaks a rule, record by record', async () => {
    const [a = 0, b = 0, c = 0, d = 0] = await inUse();
    const { body } = await plan(
      paste(
        ['persons', 'pontoon', 'departure'],
        [
          [a, ['many', '', '']],
          [b, ['2', 'Nowhere', '']],
          [c, ['2', '', '2026-07-01T10:00']],
          [d, ['2', '', '']],
        ],
      ),
    );
    expect(body.counts).toMatchObject({ change: 1, refused: 3 });
    const said = new Map<number, string>(
      body.refused.map((one: { record: number; problems: { field: string; message: string }[] }) => [
        one.record,
        `${one.problems[0]?.field}: ${one.problems[0]?.message}`,
      ]),
    );
    expect(said.get(a)).toContain('Persons: ');
    expect(said.get(b)).toBe(
      'Pontoon: There is no record of Pontoons called “Nowhere”. Add it first, or correct the name.',
    );
    expect(said.get(c)).toBe('Departure: Departure must be after arrival.');
    expect((await run(body.id, 'good')).body.outcome.change).toBe(1);
  });

  test('is refused whole where a column is nobody’s to write, is there twice, or there are too many rows', async () => {
    const [a = 0] = await inUse();
    const wrong = await plan(paste(['number', 'gone', 'note', 'note'], [[a, ['1', '2', '3', '4']]]));
    expect([wrong.status, wrong.body.errors.map((one: { path: string }) => one.path)]).toEqual([
      422,
      ['what.fields.0', 'what.fields.1', 'what.fields.3'],
    ]);
    const many = Array.from({ length: 10_001 }, (_one, at): [number, string[]] => [at + 1, ['x']]);
    expect((await plan(paste(['note'], many))).status).toBe(422);
    const blind = await plan(paste(['secret'], [[a, ['x']]]), await office.signIn('theblind'));
    expect(blind.status).toBe(422);
  });
});

test('when a record is erased, what was planned for its table and holds its values goes with it', async () => {
  const [first = 0, second = 0] = await inUse();
  const { body } = await plan({ what: set(value('note', 'Kept?')), records: some(first, second) });
  expect(body.changed[0].changes[0].before).toBe('stay 1');
  await asActor(owner(), seed, (write) =>
    write('data.quay_stays').where({ id: first }).update({ archived_at: new Date() }),
  );
  const { body: record } = await builder.call('GET', `/api/tables/quay_stays/records/${first}`);
  const erased = await builder.call('DELETE', `/api/tables/quay_stays/records/${first}`, {
    version: record.version,
    reason: 'Asked for',
  });
  expect(erased.status).toBe(200);
  expect((await builder.call('GET', `${changes}/${body.id}`)).status).toBe(404);
  const { rows } = await owner().raw(`SELECT to_regclass('staging."change_${body.id}"') AS name`);
  expect(rows[0].name).toBeNull();
  expect((await run(body.id)).status).toBe(404);
});
