import { all, is } from '@fiche/core/conditions';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { addLimitedRoles } from '../fixtures/limitedRoles.ts';
import { type Answer, type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { verifyLedger } from '../history/index.ts';

let office: TestOffice;
let builder: Client;
const owner = () => office.database.databases.owner;
const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'test' } } as const;
const VESSELS = '/api/tables/quay_vessels';

const seed = (sql: string): Promise<unknown> => asActor(owner(), actor, (write) => write.raw(sql));
const rowOf = async (table: string, id: number): Promise<Record<string, unknown>> =>
  owner()(`data.${table}`).where({ id }).first();
let added = 100;
/** A vessel with a registration of its own. */
async function vessel(name: string, more: Record<string, unknown> = {}): Promise<number> {
  const [row] = await asActor(owner(), actor, (write) =>
    write('data.quay_vessels')
      .insert({ name, registration: `GS-9${added++}`, ...more })
      .returning('id'),
  );
  return Number(row.id);
}
async function merge(
  ids: number[],
  stays: number,
  valuesFrom: object = {},
  what: 'look' | 'write' = 'write',
  who = builder,
): Promise<Answer> {
  const records = await Promise.all(
    ids.map(async (id) => ({ id, version: Number((await rowOf('quay_vessels', id)).version) })),
  );
  return who.call('POST', `${VESSELS}/merges`, { do: what, plan: { stays, records, valuesFrom } });
}
/** Names of the groups that are found. */
async function groups(by: object[], more: object = {}, who = builder): Promise<string[][]> {
  const { body } = await who.call('POST', `${VESSELS}/duplicates`, { by, ...more });
  return body.groups.map((group: { records: { title: string }[] }) => group.records.map((one) => one.title));
}

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office);
  builder = await office.signIn('harbourmaster');
  await builder.call('PATCH', VESSELS, { title: 'name' });
  for (const field of [
    { label: 'Tender of', type: 'link', settings: { table: 'quay_vessels' } },
    { label: 'Marks', type: 'choices', settings: { choices: ['deep', 'fast'] } },
  ])
    expect((await builder.call('POST', `${VESSELS}/fields`, { field })).status).toBe(200);
  await builder.call('POST', '/api/tables/quay_stays/fields', {
    field: { label: 'Escorts', type: 'links', settings: { table: 'quay_vessels' } },
  });
});
afterAll(async () => {
  expect((await verifyLedger(owner())).misfits).toEqual([]);
  await office.close();
});

describe('duplicates', () => {
  test('are found exactly, without case, spaces, marks and accents, and almost spelt so', async () => {
    for (const name of [
      'Lehner Marine Works',
      'Lemke Marine Works',
      'Nord Etoile du',
      'Étoile du Nord',
      'etoile  du-nord',
      'Etoile du Norte',
      'Puffin',
      'Puffin',
    ])
      await vessel(name, { length: 7 });
    const by = (how: string) => groups([{ field: 'name', how }], { search: '' });
    expect(await by('exact')).toEqual([['Puffin', 'Puffin']]);
    expect(await by('loose')).toEqual([
      ['Étoile du Nord', 'etoile  du-nord'],
      ['Puffin', 'Puffin'],
    ]);
    expect(await by('near')).toEqual([
      ['Nord Etoile du', 'Étoile du Nord', 'etoile  du-nord', 'Etoile du Norte'],
      ['Puffin', 'Puffin'],
    ]);
  });

  test('have to be alike in all of the fields, and blank is like nothing', async () => {
    const [one, other] = [await vessel('Guillemot', { length: 9 }), await vessel('Guilemot', { length: 9.5 })];
    const by = [
      { field: 'name', how: 'near' },
      { field: 'length', how: 'exact' },
    ];
    expect(await groups(by, { search: 'guil' })).toEqual([]);
    await seed(`UPDATE data.quay_vessels SET length = 9 WHERE id = ${other}`);
    expect(await groups(by, { search: 'guil' })).toEqual([['Guillemot', 'Guilemot']]);
    await seed(`UPDATE data.quay_vessels SET length = NULL WHERE id IN (${one}, ${other})`);
    expect(await groups(by, { search: 'guil' })).toEqual([]);
    expect(await groups([{ field: 'length', how: 'exact' }], { search: 'guil' })).toEqual([]);
  });

  test('by a field that is hidden, or cannot be compared so, are refused at their place', async () => {
    const blind = await office.signIn('theblind');
    const refused = await blind.call('POST', `${VESSELS}/duplicates`, { by: [{ field: 'length', how: 'exact' }] });
    expect([refused.status, refused.body.errors[0].path]).toEqual([422, 'by.0']);
    expect(
      (await builder.call('POST', `${VESSELS}/duplicates`, { by: [{ field: 'length', how: 'near' }] })).body.errors[0]
        .message,
    ).toContain('only be compared exactly');
  });

  test('of ten thousand records are found by their spelling, leaving nothing behind', async () => {
    await seed(
      `INSERT INTO data.quay_berths (number, pontoon) SELECT 'Berth ' || md5(n::text), 1 FROM generate_series(1, 10000) n`,
    );
    await seed(
      `INSERT INTO data.quay_berths (number, pontoon) SELECT number || 'x', 1 FROM data.quay_berths WHERE id % 2000 = 0`,
    );
    const { body } = await builder.call('POST', '/api/tables/quay_berths/duplicates', {
      by: [{ field: 'number', how: 'near' }],
      search: 'Berth',
    });
    expect([body.total, body.more]).toEqual([5, false]);
    const { rows } = await owner().raw("SELECT count(*) AS n FROM pg_class WHERE relname LIKE 'alike_%'");
    expect(Number(rows[0].n)).toBe(0);
  });
});

describe('a merge', () => {
  test('gives the one that stays what is taken, points all links to it, archives the others, and is put back as one', async () => {
    const [keep, gone] = [
      await vessel('Razorbill', { marks: ['deep'] }),
      await vessel('Razorbil', { length: 8, marks: ['fast'] }),
    ];
    const tender = await vessel('Little Auk', { tender_of: gone });
    await seed(
      `INSERT INTO data.quay_stays (harbour, vessel, note) VALUES (1, ${gone}, 'hers'), (1, ${keep}, 'already')`,
    );
    await seed(`INSERT INTO data.quay_stays (harbour, escorts, note) VALUES (1, '{${gone},1,${keep}}', 'escorted')`);
    const stay = async (note: string) => owner()('data.quay_stays').where({ note }).first();
    const take = { length: gone, marks: 'all' };
    const looked = await merge([keep, gone], keep, take, 'look');
    expect(looked.body).toMatchObject({
      written: false,
      transaction: null,
      problems: [],
      changes: [
        { label: 'Length', before: '', after: '8.0' },
        { label: 'Marks', after: 'deep, fast' },
      ],
      moved: [
        { what: 'Vessels', field: 'Tender of', count: 1 },
        { what: 'Stays', field: 'Vessel', count: 1 },
        { what: 'Stays', field: 'Escorts', count: 1 },
      ],
    });
    expect((await stay('hers')).vessel).toBe(gone);
    const { body: compared } = await builder.call('POST', `${VESSELS}/compare`, { records: [keep, gone] });
    // One of each kind of link, and for the other one her own stay and the escort.
    expect(compared.records.map((one: { linking: number }) => one.linking)).toEqual([2, 3]);
    const done = await merge([keep, gone], keep, take);
    expect(done.body.written).toBe(true);
    expect(await rowOf('quay_vessels', keep)).toMatchObject({ length: 8, marks: ['deep', 'fast'], archived_at: null });
    expect((await rowOf('quay_vessels', gone)).archived_at).not.toBe(null);
    expect((await rowOf('quay_vessels', tender)).tender_of).toBe(keep);
    expect([(await stay('hers')).vessel, (await stay('escorted')).escorts]).toEqual([keep, [keep, 1]]);
    // Whoever opens the other finds the one that stays; the history of each says so.
    const opened = await builder.call('GET', `${VESSELS}/records/${gone}`);
    expect(opened.body).toMatchObject({ archived: true, mergedInto: { id: keep, title: 'Razorbill' } });
    for (const id of [keep, gone, tender])
      expect((await builder.call('GET', `${VESSELS}/records/${id}/history`)).body.lines[0]).toMatchObject({
        through: 'Merge of 2 records of Vessels',
        account: 'harbourmaster',
        transaction: done.body.transaction,
      });
    const back = await builder.call('POST', `/api/cabinets/quay/saves/${done.body.transaction}/put-back`, {
      do: 'all',
    });
    expect(back.body, JSON.stringify(back.body.records)).toMatchObject({ written: true, counts: { back: 5, stay: 0 } });
    expect(await rowOf('quay_vessels', gone)).toMatchObject({ archived_at: null, length: 8 });
    expect(await rowOf('quay_vessels', keep)).toMatchObject({ length: null, marks: ['deep'] });
    expect([(await stay('hers')).vessel, (await stay('escorted')).escorts]).toEqual([gone, [gone, 1, keep]]);
    // Archived later for a reason of its own, it does not lead to the other one any more.
    await seed(`UPDATE data.quay_vessels SET archived_at = now() WHERE id = ${gone}`);
    const { body } = await builder.call('GET', `${VESSELS}/records/${gone}`);
    expect([body.archived, body.mergedInto]).toEqual([true, undefined]);
  });

  test('lets filled values come from the one that stays, whose own value shows beside the copy', async () => {
    const [keep, gone] = [await vessel('Turnstone', { length: 7 }), await vessel('Turnstne', { length: 6 })];
    const { registration } = await rowOf('quay_vessels', gone);
    const saved = await builder.call(
      'POST',
      '/api/forms/quay_check_in/entries',
      { values: { harbour: 1, registration, note: 'filled' } },
      { 'idempotency-key': 'merged-origin' },
    );
    expect(saved.status, JSON.stringify(saved.body)).toBe(200);
    expect((await merge([keep, gone], keep)).body.written).toBe(true);
    const { body } = await builder.call('GET', `/api/tables/quay_stays/records/${saved.body.record.id}`);
    expect([body.values.vessel, body.values.length]).toEqual([keep, 6]);
    expect(body.origins.length).toMatchObject({ record: keep, title: 'Turnstone', value: 6, now: 7 });
  });

  test('tells whoever builds which filters and defaults name a record that it archives', async () => {
    const [keep, gone] = [await vessel('Sanderling'), await vessel('Sanderlin')];
    const view = await builder.call('POST', '/api/tables/quay_stays/views', {
      definition: {
        label: 'Of the Sanderling',
        columns: [{ path: 'note' }],
        filter: all(is({ kind: 'column', path: 'vessel' }, { kind: 'constant', value: gone })),
      },
    });
    expect(view.status).toBe(200);
    expect((await merge([keep, gone], keep, {}, 'look')).body.uses).toEqual([
      {
        place: { kind: 'view', id: String(view.body.id), label: 'Of the Sanderling', table: 'quay_stays' },
        words: ['its filter'],
      },
    ]);
    // Named by nothing, and by nothing that a clerk could change.
    expect((await merge([keep, gone], gone, {}, 'look')).body.uses).toEqual([]);
    const clerk = await office.signIn('quayclerk');
    expect((await merge([keep, gone], keep, {}, 'look', clerk)).body).toMatchObject({ problems: [], uses: [] });
  });

  test('of a record with itself, or with one that it is linked to, however far, is refused', async () => {
    const lead = await vessel('Great Skua');
    const middle = await vessel('Arctic Skua', { tender_of: lead });
    const far = await vessel('Pomarine Skua', { tender_of: middle });
    expect((await merge([lead, lead], lead)).body.detail).toContain('merged with itself');
    expect((await merge([lead, middle], far)).body.detail).toContain('which of the records stays');
    const refused = await merge([lead, far], lead);
    expect([refused.status, refused.body.detail]).toEqual([
      422,
      'Pomarine Skua is linked to Great Skua by Tender of: merged, it would be linked to itself. Change that first.',
    ]);
    expect((await rowOf('quay_vessels', far)).archived_at).toBe(null);
  });

  test('of what somebody else merges at the same moment is done once', async () => {
    const [one, other] = [await vessel('Manx'), await vessel('Manks')];
    const both = await Promise.all([merge([one, other], one), merge([one, other], other)]);
    expect(both.map((answer) => answer.status).sort()).toEqual([200, 409]);
    expect(both.find((answer) => answer.status === 409)?.body.detail).toMatch(
      /^harbourmaster has (archived|changed) Man.. ?meanwhile|meanwhile/,
    );
    const left = [await rowOf('quay_vessels', one), await rowOf('quay_vessels', other)].filter(
      (row) => row.archived_at === null,
    );
    expect(left).toHaveLength(1);
  });

  test('that would break a rule is refused with the record that breaks it; what was broken before stands in no way', async () => {
    const rule = {
      id: 'fits',
      kind: 'stop',
      when: null,
      examples: [],
      at: 'vessel',
      message: 'This vessel is too long for a stay.',
      must: {
        kind: 'compare',
        left: { kind: 'form', path: 'vessel.length' },
        operator: 'less',
        right: { kind: 'constant', value: 20 },
      },
    };
    const { body: table } = await builder.call('GET', '/api/cabinets/quay');
    const stays = table.tables.find((one: { id: string }) => one.id === 'quay_stays');
    const [short, long] = [await vessel('Dunlin', { length: 6 }), await vessel('Dunlyn', { length: 30 })];
    await seed(
      `INSERT INTO data.quay_stays (harbour, vessel, note) VALUES (1, ${short}, 'short one'), (1, ${long}, 'long one')`,
    );
    const ruled = await builder.call('PATCH', '/api/tables/quay_stays', { rules: [...stays.rules, rule] });
    expect(ruled.status, JSON.stringify(ruled.body)).toBe(200);
    const refused = await merge([short, long], long);
    expect([refused.status, refused.body.detail]).toEqual([
      422,
      expect.stringContaining('This vessel is too long for a stay.'),
    ]);
    const looked = await merge([short, long], long, {}, 'look');
    expect(looked.body.problems).toMatchObject([{ what: 'Stays', message: 'This vessel is too long for a stay.' }]);
    expect((await rowOf('quay_vessels', short)).archived_at).toBe(null);
    // The stay of the long one broke the rule before: pointed at the short one it does not any more.
    expect((await merge([short, long], short)).body.written).toBe(true);
    await builder.call('PATCH', '/api/tables/quay_stays', { rules: stays.rules });
  });

  test('sets off ripples like any other save', async () => {
    const { body } = await builder.call('GET', '/api/cabinets/quay');
    const table = body.tables.find((one: { id: string }) => one.id === 'quay_stays');
    const ripple = {
      id: 'moved',
      label: 'Vessel changed',
      paused: false,
      on: ['changed'],
      fields: ['vessel'],
      when: { kind: 'group', match: 'all', of: [] },
      effects: [{ does: 'message', to: { kind: 'account', login: 'quayclerk' }, subject: 'Moved', text: '{change}' }],
    };
    const set = await builder.call('PATCH', '/api/tables/quay_stays', { ripples: [ripple] });
    expect(set.status, JSON.stringify(set.body)).toBe(200);
    const [one, other] = [await vessel('Shag'), await vessel('Shagg')];
    await seed(`INSERT INTO data.quay_stays (harbour, vessel) VALUES (1, ${other})`);
    await merge([one, other], one);
    const { rows } = await owner().raw("SELECT body FROM fiche.message WHERE subject = 'Moved'");
    expect(rows).toEqual([{ body: expect.stringContaining('Vessel: Shagg → Shag') }]);
    expect(table.ripples ?? []).toEqual([]);
    await builder.call('PATCH', '/api/tables/quay_stays', { ripples: [] });
  });

  test('is within rights: of the records, and of all that link to them', async () => {
    const [one, other] = [await vessel('Gadwall'), await vessel('Gadwal')];
    await seed(`INSERT INTO data.quay_stays (harbour, vessel) VALUES (2, ${other})`);
    const auditor = await office.signIn('auditor');
    expect((await merge([one, other], one, {}, 'write', auditor)).status).toBe(403);
    const ranged = await office.signIn('theranged');
    expect((await merge([one, other], one, {}, 'write', ranged)).status).toBe(403);
    const blind = await office.signIn('theblind');
    // The length is hidden from the role: it stays as it is.
    await seed(`UPDATE data.quay_vessels SET length = 5 WHERE id = ${other}`);
    expect((await merge([one, other], one, { length: other }, 'write', blind)).body).toMatchObject({
      written: true,
      changes: [],
    });
    expect((await rowOf('quay_vessels', one)).length).toBe(null);
  });

  test('tells beforehand how the records differ, and how many link to each', async () => {
    const [one, other] = [await vessel('Wigeon'), await vessel('Widgeon')];
    await seed(`INSERT INTO data.quay_stays (harbour, vessel, escorts) VALUES (1, ${other}, '{${other}}')`);
    const { body } = await builder.call('POST', `${VESSELS}/compare`, { records: [other, one, 99_999] });
    expect(body.records.map((record: { title: string; linking: number }) => [record.title, record.linking])).toEqual([
      ['Wigeon', 0],
      ['Widgeon', 2],
    ]);
  });
});
