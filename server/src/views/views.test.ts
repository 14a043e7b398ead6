import { all, is } from '@fiche/core/conditions';
import type { Listing } from '@fiche/core/views';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { addLimitedRoles } from '../fixtures/limitedRoles.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
const column = (path: string) => ({ kind: 'column' as const, path });
const constant = (value: string | number) => ({ kind: 'constant' as const, value });
const views = '/api/tables/quay_stays/views';
const definition = (more: object = {}) => ({
  label: 'Mine',
  columns: [{ path: 'number' }, { path: 'harbour' }],
  ...more,
});
const create = (who: Client, more: object = {}) => who.call('POST', views, { definition: definition(more) });
const rows = (listing: Partial<Listing>, more: object = {}, who = builder) =>
  who.call('POST', '/api/tables/quay_stays/rows', { listing: { columns: [{ path: 'number' }], ...listing }, ...more });

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office);
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
  await asActor(
    office.database.databases.owner,
    { name: 'quayclerk', through: { kind: 'seed', label: 'test' } },
    (owner) =>
      owner.raw(`INSERT INTO data.quay_stays (harbour, pontoon, berth, vessel, length, registration, persons, arrival, note)
        SELECT 1 + n % 2, CASE WHEN n % 3 > 0 THEN 1 + n % 3 END, CASE WHEN n % 5 > 0 THEN 1 + n % 4 END, CASE WHEN n % 7 > 0 THEN 1 + n % 2 END,
          CASE WHEN n % 4 > 0 THEN (n * 7 % 11) / 2.0 END, CASE WHEN n % 6 > 0 THEN 'GS-' || n * 13 % 17 END, CASE WHEN n % 2 > 0 THEN 1 + n % 5 END,
          CASE WHEN n % 5 > 1 THEN timestamp '2026-08-01 12:00' + n % 9 * interval '1 day' END, 'stay ' || n FROM generate_series(1, 120) n`),
  );
});
afterAll(() => office.close());

describe('the records of a listing', () => {
  const PATHS = [
    'number',
    'harbour',
    'pontoon',
    'berth.longest',
    'vessel.name',
    'length',
    'registration',
    'persons',
    'arrival',
    'created_at',
    'changed_by',
  ];
  const sorts = fc.uniqueArray(
    fc.record({ path: fc.constantFrom(...PATHS), direction: fc.constantFrom<'up' | 'down'>('up', 'down') }),
    { maxLength: 4, selector: (one) => one.path },
  );

  test('stand together by a column, each group with its count and summaries, in the order of their records', async () => {
    const columns = [
      { path: 'length', summary: 'sum' as const },
      { path: 'persons', summary: 'filled' as const },
    ];
    await fc.assert(
      fc.asyncProperty(fc.constantFrom(...PATHS.slice(1, 8)), sorts, async (group, sort) => {
        const { body } = await rows({ columns, group, sort }, { limit: 200 });
        if (!group.includes('.')) {
          const runs: { value: unknown; count: number; persons: number }[] = [];
          for (const record of body.records) {
            const value = record.values[group];
            if (runs.length === 0 || runs.at(-1)?.value !== value) runs.push({ value, count: 0, persons: 0 });
            const run = runs.at(-1);
            if (run) run.count++;
            if (run && record.values.persons !== null) run.persons++;
          }
          expect(
            body.groups.map((one: { value: unknown; count: number; summaries: Record<string, number> }) => ({
              value: one.value,
              count: one.count,
              persons: one.summaries.persons,
            })),
          ).toEqual(runs);
        }
        expect(body.groups.reduce((sum: number, one: { count: number }) => sum + one.count, 0)).toBe(120);
      }),
      { numRuns: 20 },
    );
    const { body } = await rows({ columns, group: 'harbour' });
    expect(body.groups.map((one: { title: string; count: number }) => [one.title, one.count])).toEqual([
      ['Gannet Quay', 60],
      ['Tern Cove', 60],
    ]);
  });

  test('count and sum what links to them, as far as their reader sees that', async () => {
    const columns = [
      { path: 'name' },
      { path: 'quay_stays:harbour', summary: 'sum' },
      { path: 'quay_stays:harbour.persons' },
    ];
    const counted = async (who: Client) => {
      const { body } = await who.call('POST', '/api/tables/quay_harbours/rows', {
        listing: { columns, sort: [{ path: 'name', direction: 'up' }] },
      });
      const shown = body.records.map((one: { behind: Record<string, { value: number }> }) => [
        one.behind['quay_stays:harbour']?.value,
        one.behind['quay_stays:harbour.persons']?.value,
      ]);
      return { shown, total: body.summaries['quay_stays:harbour'] };
    };
    const { rows: plain } = await office.database.databases.owner.raw(
      'SELECT harbour, count(*)::int AS n, sum(persons)::int AS persons FROM data.quay_stays WHERE archived_at IS NULL GROUP BY 1 ORDER BY 1',
    );
    expect(await counted(builder)).toEqual({
      shown: plain.map((one: { n: number; persons: number }) => [one.n, one.persons]),
      total: 120,
    });
    // Who sees the stays of the first harbour only counts those.
    const ranged = await counted(await office.signIn('theranged'));
    expect(ranged).toEqual({
      shown: [
        [plain[0].n, plain[0].persons],
        [0, null],
      ],
      total: plain[0].n,
    });
    const csv = await builder.call(
      'GET',
      `/api/tables/quay_harbours/rows/export?listing=${encodeURIComponent(JSON.stringify({ columns, sort: [] }))}`,
    );
    expect(csv.text).toContain('Name,Number of Stays,Sum of Stays’ Persons');
  });

  test('are exported one by one, or but for some, where these are named', async () => {
    const asked = (more: object) =>
      builder.call(
        'GET',
        `/api/tables/quay_stays/rows/export?${new URLSearchParams({ listing: JSON.stringify({ columns: [{ path: 'note' }] }), ...more })}`,
      );
    const few = (await asked({ only: '3,1' })).text?.split(/\r?\n/);
    expect(few?.slice(1, 3)).toEqual(['stay 3', 'stay 1']);
    expect((await asked({ except: '3,1' })).text?.split(/\r?\n/).filter(Boolean)).toHaveLength(119);
    expect((await asked({ only: '1;DROP' })).status).toBe(422);
  });

  test('are not grouped by what nearly each of them has for itself, or by several values', async () => {
    await asActor(
      office.database.databases.owner,
      { name: 'quayclerk', through: { kind: 'seed', label: 'test' } },
      (owner) => owner.raw(`INSERT INTO data.quay_vessels (name) SELECT 'Vessel ' || n FROM generate_series(1, 600) n`),
    );
    const answer = await builder.call('POST', '/api/tables/quay_vessels/rows', {
      listing: { columns: [{ path: 'name' }], group: 'name' },
    });
    expect([answer.status, answer.body.detail]).toEqual([
      422,
      expect.stringContaining('more than 500 different values'),
    ]);
    expect((await rows({ group: 'created_at' })).body.errors[0].path).toBe('listing.group');
  });

  test('are the same page by page, and from any place on, as all at once, sorted by whatever columns', async () => {
    const place = fc.integer({ min: 1, max: 125 });
    await fc.assert(
      fc.asyncProperty(sorts, fc.integer({ min: 1, max: 40 }), place, async (sort, limit, at) => {
        const { body: whole } = await rows({ sort }, { limit: 200 });
        expect([whole.records.length, whole.after, whole.total]).toEqual([120, null, 120]);
        const ids: number[] = [];
        for (let after: string | undefined; ; ) {
          const { body } = await rows({ sort }, { limit, after });
          ids.push(...body.records.map((one: { id: number }) => one.id));
          if (body.after === null) break;
          after = body.after;
        }
        expect(ids).toEqual(whole.records.map((one: { id: number }) => one.id));
        const { body: dragged } = await rows({ sort }, { limit, at });
        expect(dragged.records.map((one: { id: number }) => one.id)).toEqual(ids.slice(at, at + limit));
        const { body: further } = await rows({ sort }, { limit, after: dragged.after ?? undefined });
        if (dragged.after !== null)
          expect(further.records.map((one: { id: number }) => one.id)).toEqual(ids.slice(at + limit, at + 2 * limit));
      }),
      { numRuns: 20 },
    );
  });

  test('come in the order of what people read, blanks last in both directions', async () => {
    for (const direction of ['up', 'down'] as const) {
      const { body } = await rows({ sort: [{ path: 'registration', direction }] }, { limit: 200 });
      const read = body.records.map((one: { values: { registration: string | null } }) => one.values.registration);
      const filled = read.filter((one: string | null) => one !== null);
      expect(read.slice(filled.length).every((one: string | null) => one === null)).toBe(true);
      const numbers = filled.map((one: string) => Number(one.slice(3)));
      const inOrder = [...numbers].sort((a, b) => (direction === 'up' ? a - b : b - a));
      expect(numbers).toEqual(inOrder);
    }
  });

  test('show what stands behind links, with the title where that is a link', async () => {
    const { body } = await rows({
      columns: [{ path: 'berth.longest' }, { path: 'berth.pontoon' }],
      filter: all(is(column('berth'), constant(3))),
    });
    expect(body.records[0].behind).toEqual({
      'berth.longest': { value: 10, title: null },
      'berth.pontoon': { value: 2, title: 'B' },
    });
  });

  test('are those that filter and search leave together, today and who asks included', async () => {
    const inSecond = all(is(column('pontoon.harbour'), constant(2)));
    const { body } = await rows({ filter: inSecond }, { search: 'tystie', limit: 200 });
    const { rows: byHand } = await office.database.databases.owner.raw(
      'SELECT id FROM data.quay_stays WHERE pontoon = 3 AND vessel = 2',
    );
    expect(body.total).toBe(byHand.length);
    expect(body.total).toBeGreaterThan(0);
    const mine = all(is(column('created_by'), { kind: 'account' }));
    expect((await rows({ filter: mine }, {}, clerk)).body.total).toBe(120);
    expect((await rows({ filter: mine })).body.total).toBe(0);
  });

  test('have summaries over all that the filter finds, not over the page, with the first page', async () => {
    const listing = {
      columns: [
        { path: 'length', summary: 'sum' },
        { path: 'berth.longest', summary: 'average' },
        { path: 'persons', summary: 'most' },
        { path: 'arrival', summary: 'least' },
        { path: 'registration', summary: 'filled' },
      ] as Listing['columns'],
      filter: all(is(column('harbour'), constant(2))),
    };
    const { body } = await rows(listing, { limit: 10 });
    const { rows: byHand } = await office.database.databases.owner.raw(
      `SELECT sum(length) AS length, avg(b.longest) AS longest, max(persons) AS persons, min(arrival) AS arrival, count(registration) AS registration
       FROM data.quay_stays s LEFT JOIN data.quay_berths b ON b.id = s.berth WHERE s.harbour = 2`,
    );
    const { longest, ...own } = byHand[0];
    expect(body.summaries).toEqual({ ...own, 'berth.longest': longest });
    expect((await rows(listing, { limit: 10, after: body.after })).body.summaries).toBeNull();
    const wrong = await rows({ columns: [{ path: 'registration', summary: 'sum' }] });
    expect(wrong.body.errors[0]).toMatchObject({ path: 'listing.columns.0.summary' });
  });

  test('are refused at the place of what is not there', async () => {
    const wrong = await rows({ columns: [{ path: 'mooring' }], sort: [{ path: 'tide', direction: 'up' }] });
    expect(wrong.status).toBe(422);
    expect(wrong.body.errors.map((one: { path: string }) => one.path)).toEqual(['listing.columns.0', 'listing.sort.0']);
    expect((await rows({ sort: [{ path: 'number', direction: 'up' }] }, { after: 'nonsense' })).status).toBe(200);
  });
});

describe('a view', () => {
  test('of one’s own is there for oneself, and a shared one for everybody', async () => {
    const own = await create(clerk, { label: 'Clerk’s own' });
    expect(own.body).toMatchObject({ owner: 'quayclerk', shared: false, mayChange: true, revision: 1 });
    expect((await create(clerk, { shared: true })).status).toBe(403);
    const shared = await create(builder, { label: 'Everybody’s', shared: true, opens: true });
    const listed = async (who: Client) => (await who.call('GET', views)).body.views;
    expect((await listed(clerk)).map((one: { label: string }) => one.label)).toEqual(['Everybody’s', 'Clerk’s own']);
    expect((await listed(builder)).map((one: { label: string }) => one.label)).toEqual(['Everybody’s']);
    expect((await builder.call('GET', `${views}/${own.body.id}/records`)).status).toBe(404);
    const refused = await clerk.call('PUT', `${views}/${shared.body.id}`, { definition: definition(), revision: 1 });
    expect(refused).toMatchObject({
      status: 403,
      body: { detail: expect.stringContaining('Save yours as another view') },
    });
    expect((await clerk.call('DELETE', `${views}/${shared.body.id}`)).status).toBe(403);
    expect((await clerk.call('DELETE', `${views}/${own.body.id}`)).status).toBe(200);
    expect(await listed(clerk)).toHaveLength(1);
  });

  test('shared with some roles is there for these, for who builds and for who made it', async () => {
    const made = await create(builder, { label: 'For auditors', shared: true, roles: ['auditor'] });
    const sees = async (who: Client): Promise<boolean> =>
      (await who.call('GET', views)).body.views.some((one: { id: number }) => one.id === made.body.id);
    expect([await sees(await office.signIn('auditor')), await sees(builder), await sees(clerk)]).toEqual([
      true,
      true,
      false,
    ]);
    expect((await clerk.call('GET', `${views}/${made.body.id}/records`)).status).toBe(404);
    expect((await clerk.call('PUT', `${views}/${made.body.id}/watch`, {})).status).toBe(404);
    const unknown = await create(builder, { shared: true, roles: ['ghost'] });
    expect(unknown.body.errors[0]).toMatchObject({ path: 'definition.roles' });
    expect((await create(clerk, { label: 'Own', roles: ['auditor'] })).body.roles).toBeNull();
  });

  test('that a table opens on takes the place of the one before', async () => {
    const next = await create(builder, { label: 'Opens now', shared: true, opens: true });
    const all = (await builder.call('GET', views)).body.views;
    expect(all.filter((one: { opens: boolean }) => one.opens).map((one: { id: number }) => one.id)).toEqual([
      next.body.id,
    ]);
    const own = await create(clerk, { label: 'Not shared', opens: true });
    expect(own.body.opens).toBe(false);
  });

  test('is read by a program, and made or deleted by none', async () => {
    const shared = await create(builder, { label: 'For programs', shared: true });
    const made = await builder.call('POST', '/api/cabinets/quay/tokens', { name: 'lister', role: 'builder' });
    const program = (method: 'GET' | 'POST' | 'DELETE', url: string, body?: unknown) =>
      office.anonymous.call(method, url, body, { authorization: `Bearer ${made.body.token}` });
    expect((await program('GET', `${views}/${shared.body.id}/records`)).status).toBe(200);
    expect((await program('POST', views, { definition: definition() })).status).toBe(403);
    expect((await program('DELETE', `${views}/${shared.body.id}`)).status).toBe(403);
  });

  test('is changed once by two who change it at the same time', async () => {
    const { body } = await create(builder, { label: 'Raced' });
    const put = (label: string) =>
      builder.call('PUT', `${views}/${body.id}`, { definition: definition({ label }), revision: 1 });
    const answers = await Promise.all([put('One'), put('Two')]);
    expect(answers.map((one) => one.status).sort()).toEqual([200, 409]);
  });

  test('is not there for a role that does not see what it filters by, and shows no field that is hidden', async () => {
    const byNote = all(is(column('note'), constant('stay 7')));
    const filtered = await create(builder, { label: 'By note', shared: true, filter: byNote });
    const shown = await create(builder, {
      label: 'With notes',
      shared: true,
      columns: [{ path: 'note' }, { path: 'number' }],
      sort: [{ path: 'note', direction: 'up' }],
    });
    const blind = await office.signIn('theblind');
    const listed = (await blind.call('GET', views)).body.views;
    expect(listed.some((one: { id: number }) => one.id === filtered.body.id)).toBe(false);
    expect(listed.find((one: { id: number }) => one.id === shown.body.id)).toMatchObject({
      columns: [{ path: 'number' }],
      sort: [],
    });
    expect((await blind.call('GET', `${views}/${filtered.body.id}/records`)).status).toBe(404);
    // Nobody would have one that is for roles that do not see what it filters by.
    const forBlind = await create(builder, { label: 'For nobody', filter: byNote, shared: true, roles: ['blind'] });
    expect(forBlind.body.errors[0]).toMatchObject({
      path: 'definition.roles',
      message: expect.stringContaining('nobody'),
    });
    const records = await blind.call('GET', `${views}/${shown.body.id}/records`);
    expect(records.text).not.toContain('stay 7');
    expect((await rows({ filter: byNote }, {}, blind)).status).toBe(422);
    expect((await rows({ sort: [{ path: 'note', direction: 'up' }] }, {}, blind)).status).toBe(422);
  });

  test('lists the records that a role sees, and exports those that it may', async () => {
    const shared = await create(builder, {
      label: 'All stays',
      shared: true,
      columns: [{ path: 'number' }, { path: 'vessel' }, { path: 'berth.longest' }, { path: 'created_by' }],
      sort: [{ path: 'number', direction: 'up' }],
    });
    const ranged = await office.signIn('theranged');
    const { body } = await ranged.call('GET', `${views}/${shared.body.id}/records?limit=200`);
    expect(body.total).toBe(60);
    const own = await office.signIn('theown');
    expect((await own.call('GET', `${views}/${shared.body.id}/export`)).text?.trim().split('\r\n')).toHaveLength(1);
    const csv = (await clerk.call('GET', `${views}/${shared.body.id}/export`)).text?.trim().split('\r\n');
    expect(csv).toHaveLength(121);
    const listing = { columns: shared.body.columns, sort: shared.body.sort };
    const rowsCsv = (who: Client) =>
      who.call('GET', `/api/tables/quay_stays/rows/export?listing=${encodeURIComponent(JSON.stringify(listing))}`);
    expect((await rowsCsv(clerk)).text?.trim().split('\r\n')).toEqual(csv);
    expect((await rowsCsv(own)).text?.trim().split('\r\n')).toHaveLength(1);
    expect((await clerk.call('GET', '/api/tables/quay_stays/rows/export?listing={')).status).toBe(422);
    expect(csv?.slice(0, 2)).toEqual([
      'Number,Vessel,Berth’s Longest,Added by',
      expect.stringMatching(/^STAY-\d+-00001,Tystie,12,quayclerk$/),
    ]);
  });

  test('has its changes in the ledger, in words', async () => {
    const { body } = await create(builder, {
      label: 'For the ledger',
      filter: all(is(column('harbour'), constant(1))),
    });
    await builder.call('PUT', `${views}/${body.id}`, {
      definition: definition({ label: 'For the ledger', filter: all(is(column('harbour'), constant(2))) }),
      revision: 1,
    });
    await builder.call('DELETE', `${views}/${body.id}`);
    const { body: ledger } = await builder.call('GET', '/api/cabinets/quay/ledger?limit=20');
    const lines = ledger.lines.filter(
      (one: { what: string; record: string }) => one.what === 'View' && one.record === String(body.id),
    );
    expect(lines.map((one: { kind: string }) => one.kind)).toEqual(['erase', 'change', 'add']);
    expect(lines[1].changes).toMatchObject([
      { label: 'Filter', before: 'Harbour is Gannet Quay', after: 'Harbour is Tern Cove' },
    ]);
  });

  test('keeps a field that it reads from being taken out of use, and names itself; one’s own says what is to be mended', async () => {
    const retire = (field: string) => builder.call('POST', `/api/tables/quay_berths/fields/${field}/retire`);
    const field = { label: 'Depth', type: 'decimal', settings: { places: 1 } };
    await builder.call('POST', '/api/tables/quay_berths/fields', { field });
    const deep = all(is(column('berth.depth'), constant(3)));
    const shared = await create(builder, { label: 'Deep berths', shared: true, filter: deep });
    const refused = await retire('depth');
    expect([refused.status, refused.body.detail]).toEqual([
      409,
      expect.stringContaining('the view “Deep berths” of Stays'),
    ]);
    await builder.call('DELETE', `${views}/${shared.body.id}`);
    const own = await create(clerk, { label: 'My deep berths', filter: deep });
    expect((await retire('depth')).status).toBe(200);
    const mine = (await clerk.call('GET', views)).body.views.find((one: { id: number }) => one.id === own.body.id);
    expect(mine.problem).toContain('berth.depth is not a field of Stays any more');
    const mended = { definition: definition({ label: 'Mended' }), revision: 1 };
    expect((await clerk.call('PUT', `${views}/${own.body.id}`, mended)).body.problem).toBeNull();
  });

  test('cannot be made without end', async () => {
    const auditor = await office.signIn('auditor');
    for (let n = 0; n < 100; n++) expect((await create(auditor, { label: `View ${n}` })).status).toBe(200);
    expect((await create(auditor)).status).toBe(409);
  });
});

describe('a form over a view', () => {
  const form = '/api/forms/quay_check_in';
  const inSecond = all(is(column('harbour'), constant(2)));
  let view = 0;
  const stayOfView = async (at: number): Promise<number> =>
    (await clerk.call('GET', `/api/tables/quay_stays/at/${at}?view=${view}`)).body.id;

  test('shows the records of the view in its order, one after another, and tells the place among them', async () => {
    const made = await create(builder, {
      label: 'Second harbour',
      shared: true,
      filter: inSecond,
      sort: [{ path: 'length', direction: 'down' }],
    });
    view = made.body.id;
    const draft = (await builder.call('GET', `${form}/draft`)).body;
    const saved = await builder.call('PUT', `${form}/draft`, {
      definition: { ...draft.definition, view },
      revision: draft.revision,
    });
    expect(saved.status).toBe(200);
    expect((await builder.call('POST', `${form}/publish`, { revision: saved.body.revision })).status).toBe(200);
    const listed = await clerk.call('GET', `/api/tables/quay_stays/views/${view}/records?limit=200`);
    const ids = listed.body.records.map((one: { id: number }) => one.id);
    const filled: number[] = [];
    for (let after = ''; ; ) {
      const { body } = await clerk.call(
        'GET',
        `${form}/records?limit=25${after && `&after=${encodeURIComponent(after)}`}`,
      );
      filled.push(...body.records.map((one: { id: number }) => one.id));
      if (body.after === null) break;
      after = body.after;
    }
    expect(filled).toEqual(ids);
    for (const at of [1, 30, 60]) {
      expect(await stayOfView(at)).toBe(ids[at - 1]);
      const { body } = await clerk.call(
        'GET',
        `/api/tables/quay_stays/records/${ids[at - 1]}?form=quay_check_in&view=${view}`,
      );
      expect(body).toMatchObject({
        inView: true,
        place: {
          position: at,
          total: 60,
          previous: ids[at - 2] ?? null,
          next: ids[at] ?? null,
          first: ids[0],
          last: ids[59],
        },
      });
    }
  });

  test('a record that is not in the view stands nowhere in it; a view that is in use is neither deleted nor kept for oneself', async () => {
    const outside = (await rows({ filter: all(is(column('harbour'), constant(1))) }, { limit: 1 })).body.records[0].id;
    const read = await clerk.call('GET', `/api/tables/quay_stays/records/${outside}?view=${view}`);
    expect([read.status, read.body.inView]).toEqual([200, false]);
    expect((await clerk.call('GET', `/api/tables/quay_stays/at/61?view=${view}`)).status).toBe(404);
    const gone = await builder.call('DELETE', `${views}/${view}`);
    expect([gone.status, gone.body.detail]).toEqual([409, expect.stringContaining('the form Check-in shows')]);
    const mine = definition({ label: 'Second harbour', filter: inSecond, shared: false });
    expect((await builder.call('PUT', `${views}/${view}`, { definition: mine, revision: 1 })).status).toBe(409);
  });

  test('tells who does not have the view what to do, and none that is not there is published', async () => {
    const shared = { ...definition({ label: 'Second harbour', filter: inSecond, shared: true }), roles: ['builder'] };
    expect((await builder.call('PUT', `${views}/${view}`, { definition: shared, revision: 1 })).status).toBe(200);
    const refused = await clerk.call('GET', `${form}/records`);
    expect([refused.status, refused.body.detail]).toEqual([404, expect.stringContaining('not shared with your role')]);
    const draft = (await builder.call('GET', `${form}/draft`)).body;
    const saved = await builder.call('PUT', `${form}/draft`, {
      definition: { ...draft.definition, view: 99_999 },
      revision: draft.revision,
    });
    const published = await builder.call('POST', `${form}/publish`, { revision: saved.body.revision });
    expect([published.status, published.body.errors[0].path]).toEqual([422, 'view']);
  });
});

describe('what a view asks each time', () => {
  test('narrows its records by the answer, its cards and its export as well, and nothing without one', async () => {
    const filter = all(is(column('harbour'), { kind: 'asked' }));
    const { body: view } = await create(builder, { label: 'Of one harbour', filter });
    const of = (more = '') => builder.call('GET', `${views}/${view.id}/records?limit=1${more}`);
    const asked = (...answers: unknown[]) => `&asked=${encodeURIComponent(JSON.stringify(answers))}`;
    expect([(await of()).body.total, (await of(asked(1))).body.total, (await of(asked(null))).body.total]).toEqual([
      120, 60, 120,
    ]);
    const { body: first } = await of(asked(2));
    const card = await builder.call(
      'GET',
      `/api/tables/quay_stays/records/${first.records[0].id}?view=${view.id}${asked(2)}`,
    );
    expect([card.body.inView, card.body.place.total]).toEqual([true, 60]);
    const csv = await builder.call('GET', `${views}/${view.id}/export?search=${asked(1)}`);
    expect(String(csv.text).trim().split('\n').length).toBe(61);
    // What does not fit the field finds nothing, and what is no answer is refused.
    expect((await of(asked('Gannet'))).body.total).toBe(0);
    expect((await of('&asked=[[1]]')).status).toBe(422);
    expect((await of('&asked=what')).status).toBe(422);
    expect((await rows({ filter })).body.total).toBe(120);
  });
});

describe('a calculated column', () => {
  const calculation = { label: 'Twice', source: 'length * 2.0 + berth.longest', as: 'decimal', places: 1 };

  test('is calculated of each record that is listed, also out of linked records, and in an export', async () => {
    const columns = [{ path: 'length' }, { path: 'berth.longest' }, { path: '=1', calculation }] as never;
    const { body } = await rows({ columns }, { limit: 200 });
    const given = body.records.map(
      (one: { values: Record<string, number | null>; behind: Record<string, { value: number | null }> }) => {
        const [length, longest] = [one.values.length, one.behind['berth.longest']?.value];
        return [one.behind['=1']?.value, length == null || longest == null ? null : length * 2 + longest];
      },
    );
    expect(given.some(([is]: [number | null]) => is !== null)).toBe(true);
    for (const [is, wanted] of given) expect(is).toBe(wanted);
    const alone = await rows({ columns: [{ path: '=1', calculation }] as never });
    expect(alone.body.records[0].behind).toEqual({ '=1': alone.body.records[0].behind['=1'] });
    const { body: view } = await create(builder, { label: 'Calculated', columns });
    const csv = await builder.call('GET', `${views}/${view.id}/export`);
    expect(String(csv.text).split('\n')[0]).toContain('Twice');
  });

  test('that cannot be calculated is refused where it is made, in words', async () => {
    const wrong = await create(builder, {
      columns: [{ path: '=1', calculation: { ...calculation, source: 'lenght' } }],
    });
    expect([wrong.status, wrong.body.errors[0].path]).toEqual([422, 'definition.columns.0']);
    expect(wrong.body.errors[0].message).toContain('Twice:');
  });
});
