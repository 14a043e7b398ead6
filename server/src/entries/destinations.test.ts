import { everyAction } from '@fiche/core/rights';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { eraseOldAnswers } from '../answers/index.ts';
import { asActor } from '../database/index.ts';
import { addLimitedRoles, LIMITED_ROLES } from '../fixtures/limitedRoles.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
let form = '';
let revision = 0;
let definition: Record<string, unknown>;
let keys = 0;

const field = (label: string, type: string, settings: object = {}, more: object = {}) => ({
  field: { label, type, settings, ...more },
});
const OWNERS = 'quay_owners';
const CRAFT = 'quay_craft';
const VISITS = 'quay_visits';
const DESTINATIONS = {
  of: [
    { id: 'owner', table: OWNERS, does: 'findOrAdd', key: ['e_mail'], over: 'blanks', several: 'refuse' },
    { id: 'craft', table: CRAFT, does: 'findOrAdd', key: ['registration'], over: 'blanks', several: 'refuse' },
  ],
  links: [
    { of: 'craft', field: 'owner', to: 'owner' },
    { of: 'self', field: 'craft', to: 'craft' },
  ],
  copies: [{ from: 'owner__name', of: 'self', to: 'asked_by' }],
};

async function publish(next: object): Promise<{ status: number; findings: { weight: string; message: string }[] }> {
  const saved = await builder.call('PUT', `${form}/draft`, { definition: next, revision });
  revision = saved.body.revision ?? revision;
  const published = await builder.call('POST', `${form}/publish`, { revision });
  if (published.status === 200) revision = published.body.revision;
  return { status: published.status, findings: saved.body.findings ?? [] };
}
const placed = (id: string, more: object = {}) => ({ kind: 'field', field: id, ...more });
const withDestinations = (destinations: object = DESTINATIONS, more: object = {}) => ({
  ...definition,
  destinations,
  sections: [
    {
      id: 'main',
      label: '',
      columns: 2,
      shownWhen: null,
      items: [
        ...['owner__name', 'owner__e_mail', 'craft__registration', 'craft__length', 'nights'].map((one) => placed(one)),
      ],
    },
  ],
  page: { slug: 'visit', intro: '', thanks: 'Thanks.', disclosed: [] },
  ...more,
});
const enter = (values: object, who = clerk, base = form) =>
  who.call('POST', `${base}/entries`, { values }, { 'idempotency-key': `destinations-${++keys}` });
const rowsOf = async (table: string): Promise<Record<string, unknown>[]> =>
  office.database.databases.owner(`data.${table}`).orderBy('id');
const counts = async () => Promise.all([OWNERS, CRAFT, VISITS].map(async (table) => (await rowsOf(table)).length));
/** Two owners with one address, which the form would have taken for one. */
const addTwins = (address: string, name = 'quayclerk') =>
  asActor(office.database.databases.owner, { name, through: { kind: 'seed', label: 'test' } }, (owner) =>
    owner(`data.${OWNERS}`).insert([
      { name: 'Twin', e_mail: address },
      { name: 'Twin', e_mail: address.toUpperCase() },
    ]),
  );
const visit = (n: number, more: object = {}) => ({
  owner__name: `Owner ${n}`,
  owner__e_mail: `owner${n}@tern.example`,
  craft__registration: `GS-${n}`,
  craft__length: 8,
  nights: 2,
  ...more,
});

beforeAll(async () => {
  office = await testOffice();
  [builder, clerk] = [await office.signIn('harbourmaster'), await office.signIn('quayclerk')];
  const plan: Record<string, object[]> = {
    Owners: [field('Name', 'text', {}, { required: true }), field('E-mail', 'email'), field('Phone', 'phone')],
    Craft: [
      field('Registration', 'text', {}, { required: true }),
      field('Length', 'decimal', { places: 1, most: 20 }),
      field('Owner', 'link', { table: OWNERS }, { required: true }),
    ],
    Visits: [
      field('Craft', 'link', { table: CRAFT }, { required: true }),
      field('Nights', 'wholeNumber', { least: 1 }),
      field('Asked by', 'text'),
    ],
  };
  for (const [label, fields] of Object.entries(plan)) {
    const { body: table } = await builder.call('POST', '/api/cabinets/quay/tables', { label });
    for (const one of fields)
      expect((await builder.call('POST', `/api/tables/${table.id}/fields`, one)).status).toBe(200);
  }
  const made = await builder.call('POST', '/api/cabinets/quay/forms', { table: VISITS, label: 'Visit' });
  form = `/api/forms/${made.body.id}`;
  const { body: draft } = await builder.call('GET', `${form}/draft`);
  [definition, revision] = [draft.definition, draft.revision];
  const ready = await publish(withDestinations());
  expect(ready.findings.filter((one) => one.weight === 'must')).toEqual([]);
  expect(ready.status).toBe(200);
});
afterAll(() => office.close());

describe('a form into three tables', () => {
  test('adds an owner, a craft and a visit that point at one another, and finds them the next time', async () => {
    const first = await enter(visit(1));
    expect(first.status).toBe(200);
    const [owner] = await rowsOf(OWNERS);
    const [craft] = await rowsOf(CRAFT);
    const [stay] = await rowsOf(VISITS);
    expect(owner).toMatchObject({ name: 'Owner 1', e_mail: 'owner1@tern.example', created_by: 'quayclerk' });
    expect(craft).toMatchObject({ registration: 'GS-1', owner: owner?.id });
    expect(stay).toMatchObject({ craft: craft?.id, nights: 2, asked_by: 'Owner 1' });
    expect((await enter(visit(1, { owner__name: 'Somebody else', nights: 5 }))).status).toBe(200);
    expect(await counts()).toEqual([1, 1, 2]);
    expect((await rowsOf(OWNERS))[0]?.name).toBe('Owner 1');
    const ledger = await builder.call('GET', '/api/cabinets/quay/ledger?limit=10');
    expect(
      ledger.body.lines.filter((one: { through: string }) => one.through.startsWith('Visit')).length,
    ).toBeGreaterThan(3);
    // The same save twice is one.
    const again = { values: visit(2) };
    const key = { 'idempotency-key': 'destinations-twice' };
    const once = await clerk.call('POST', `${form}/entries`, again, key);
    expect((await clerk.call('POST', `${form}/entries`, again, key)).body.record.id).toBe(once.body.record.id);
  });

  test('as a public page, stamped as the page; a respondent learns the reference only', async () => {
    const before = await counts();
    const { status, body } = await enter(visit(30), office.anonymous, '/api/public/visit');
    expect([status, body.record, body.written]).toEqual([200, null, undefined]);
    expect(await counts()).toEqual(before.map((one) => one + 1));
    expect((await rowsOf(OWNERS)).at(-1)?.created_by).toBe('page:visit');
    const { body: page } = await office.anonymous.call('GET', '/api/public/visit');
    const told = page.tables.map((one: { id: string; fields: { id: string }[] }) => [
      one.id,
      one.fields.map((f) => f.id),
    ]);
    expect(Object.fromEntries(told)).toMatchObject({
      [OWNERS]: ['name', 'e_mail'],
      [CRAFT]: ['registration', 'length'],
    });
  });

  test('fifty who name the same new owner at once end with one', async () => {
    const before = await counts();
    const answers = await Promise.all(
      Array.from({ length: 50 }, (_one, n) => enter(visit(100, { craft__registration: `GS-1${n}` }))),
    );
    expect(answers.map((one) => one.status)).toEqual(answers.map(() => 200));
    const after = await counts();
    expect(after.map((count, at) => count - (before[at] ?? 0))).toEqual([1, 50, 50]);
  });

  test('whatever fails, no table has a record more; whatever succeeds, each link points where the form says', async () => {
    const anyEntry = fc.record({
      owner__name: fc.option(fc.constantFrom('Ada', 'Bram')),
      owner__e_mail: fc.option(fc.constantFrom('ada@tern.example', 'bram@tern.example', 'no address')),
      craft__registration: fc.option(fc.constantFrom('GS-A', 'GS-B', 'GS-C')),
      craft__length: fc.option(fc.constantFrom(5, 12, 21)),
      nights: fc.option(fc.constantFrom(0, 1, 7)),
    });
    await fc.assert(
      fc.asyncProperty(anyEntry, async (values) => {
        const before = await counts();
        const answer = await enter(values);
        const after = await counts();
        if (answer.status !== 200) {
          expect(after).toEqual(before);
          return;
        }
        expect(after[2]).toBe((before[2] ?? 0) + 1);
        const stay = (await rowsOf(VISITS)).at(-1);
        const craft = (await rowsOf(CRAFT)).find((one) => one.id === stay?.craft);
        expect(craft?.registration).toBe(values.craft__registration);
        if (values.owner__e_mail === null) return;
        const owner = (await rowsOf(OWNERS)).find((one) => one.id === craft?.owner);
        expect(owner).toBeDefined();
      }),
      { numRuns: 60 },
    );
  });

  test('a rule of one table that fails after another was written stands at its field, and nothing is written', async () => {
    const before = await counts();
    const long = await enter(visit(200, { craft__length: 25 }));
    expect([long.status, long.body.errors[0].path]).toEqual([422, 'craft__length']);
    expect(await counts()).toEqual(before);
  });

  test('a key that several have is refused, or takes the newest; a record that is changed fills its blanks only', async () => {
    await addTwins('twin@tern.example');
    const twin = visit(300, { owner__e_mail: 'twin@tern.example' });
    const refused = await enter(twin);
    expect([refused.status, refused.body.errors[0]]).toEqual([
      422,
      expect.objectContaining({ path: 'owner__e_mail', message: expect.stringContaining('several records have it') }),
    ]);
    const [owner, craft] = DESTINATIONS.of;
    const changing = { ...owner, does: 'findAndChange', several: 'newest' };
    const [main] = withDestinations().sections;
    const items = [...(main?.items ?? []), placed('owner__phone')];
    const sections = [{ ...main, items }];
    expect((await publish(withDestinations({ ...DESTINATIONS, of: [changing, craft] }, { sections }))).status).toBe(
      200,
    );
    const filled = await enter({ ...twin, owner__name: 'Renamed', owner__phone: '0555 100 200' });
    expect(filled.status).toBe(200);
    const newest = (await rowsOf(OWNERS))
      .filter((one) => String(one.e_mail).toLowerCase() === 'twin@tern.example')
      .at(-1);
    expect(newest).toMatchObject({ name: 'Twin', phone: '0555 100 200' });
    const unknown = await enter(visit(301));
    expect([unknown.status, unknown.body.errors[0].path]).toEqual([422, 'owner__e_mail']);
    expect((await publish(withDestinations())).status).toBe(200);
  });

  test('of several that have a key, the office chooses: as it saves, or of a public answer that waits', async () => {
    const [owner, craft] = DESTINATIONS.of;
    const of = [
      { ...owner, several: 'ask' },
      { ...craft, several: 'ask' },
    ];
    expect((await publish(withDestinations({ ...DESTINATIONS, of }))).status).toBe(200);
    await addTwins('tern-twins@tern.example');
    const [older, newer] = (await rowsOf(OWNERS)).slice(-2);
    const twin = visit(310, { owner__e_mail: 'tern-twins@tern.example' });
    const before = await counts();
    const asked = await enter(twin);
    expect([asked.status, asked.body.errors[0].path, asked.body.several]).toEqual([
      422,
      'owner__e_mail',
      {
        destination: 'owner',
        label: 'Owners',
        records: [newer, older].map((one) => ({
          id: one?.id,
          title: 'Twin',
          values: [{ label: 'E-mail', value: one?.e_mail }],
        })),
      },
    ]);
    const choose = (values: object, meant: unknown, who = clerk, base = form) =>
      who.call('POST', `${base}/entries`, { values, meant }, { 'idempotency-key': `chosen-${++keys}` });
    // A record that is not among them is no answer.
    expect((await choose(twin, { owner: 1 })).body.several?.records).toHaveLength(2);
    expect(await counts()).toEqual(before);
    expect((await choose(twin, { owner: older?.id })).status).toBe(200);
    expect((await rowsOf(CRAFT)).at(-1)).toMatchObject({ registration: 'GS-310', owner: older?.id });

    // A stranger is shown nobody, chooses nobody, and what cannot be saved is refused before it waits.
    const page = '/api/public/visit';
    const stranger = visit(311, { owner__e_mail: 'tern-twins@tern.example' });
    expect((await choose(stranger, { owner: newer?.id }, office.anonymous, page)).status).toBe(403);
    const wrong = await enter({ ...stranger, craft__length: 25 }, office.anonymous, page);
    expect([wrong.status, wrong.body.errors[0].path, wrong.body.several]).toEqual([422, 'craft__length', undefined]);
    const sent = await enter(stranger, office.anonymous, page);
    expect([sent.status, sent.body]).toEqual([
      200,
      { record: null, reference: expect.stringMatching(/^H-\d+$/), waits: true },
    ]);
    const { body: held } = await clerk.call('GET', `${form}/held`);
    expect(held.answers[0]).toMatchObject({
      why: 'E-mail of Owners: several records have it. The office chooses one of them.',
      values: expect.arrayContaining([{ label: 'Registration', value: 'GS-311' }]),
    });
    const release = (meant: object) =>
      clerk.call('POST', `${form}/held/${held.answers[0].id}`, { decision: 'release', reason: 'asked them', meant });
    const which = await release({});
    expect([which.status, which.body.several.records.length]).toEqual([422, 2]);
    expect((await release({ owner: newer?.id })).status).toBe(200);
    expect((await rowsOf(CRAFT)).at(-1)).toMatchObject({ registration: 'GS-311', owner: newer?.id });
    expect((await rowsOf(VISITS)).at(-1)?.created_by).toBe('page:visit');
    expect((await publish(withDestinations())).status).toBe(200);
  });

  test('who chooses among several is shown those that the role sees, and takes no other', async () => {
    const own = {
      ...everyAction('all'),
      see: 'own',
      change: 'own',
      archive: 'own',
      export: 'own',
      fields: {},
    } as const;
    const tables = { [OWNERS]: { ...own, fields: { phone: 'hidden' } } } as const;
    await addLimitedRoles(office, { sees: { ...LIMITED_ROLES.blind, label: 'Own owners', tables } });
    const sees = await office.signIn('thesees');
    const of = DESTINATIONS.of.map((one) => ({ ...one, several: 'ask' }));
    expect((await publish(withDestinations({ ...DESTINATIONS, of }))).status).toBe(200);
    await addTwins('unseen@tern.example');
    const [twin] = (await rowsOf(OWNERS)).slice(-1);
    const entered = visit(320, { owner__e_mail: 'unseen@tern.example' });
    const send = (meant?: object) =>
      sees.call('POST', `${form}/entries`, { values: entered, meant }, { 'idempotency-key': `sees-${++keys}` });
    const before = await counts();
    for (const meant of [undefined, { owner: twin?.id }]) {
      const refused = await send(meant);
      expect([refused.status, refused.body.several]).toEqual([422, undefined]);
      expect(refused.body.errors[0].message).toContain('your role sees none');
    }
    expect(await counts()).toEqual(before);
    await addTwins('unseen@tern.example', 'thesees');
    const asked = await send({ owner: twin?.id });
    expect(asked.body.several.records.map((one: { id: number }) => one.id)).toEqual(
      (await rowsOf(OWNERS))
        .slice(-2)
        .map((one) => one.id)
        .reverse(),
    );
    expect((await send({ owner: asked.body.several.records[0].id })).status).toBe(200);
    expect((await publish(withDestinations())).status).toBe(200);
  });

  test('a role that may not add there is refused, and what is tried shows the records and writes none', async () => {
    await addLimitedRoles(office);
    const own = await office.signIn('theown');
    const before = await counts();
    expect((await enter(visit(400), own)).status).toBe(403);
    const tried = await builder.call(
      'POST',
      `${form}/draft/entries`,
      { values: visit(401) },
      { 'idempotency-key': 'tried-401' },
    );
    expect(tried.status).toBe(200);
    expect(tried.body.written).toEqual([
      { table: 'Owners', did: 'added', values: expect.arrayContaining([{ label: 'Name', value: 'Owner 401' }]) },
      {
        table: 'Craft',
        did: 'added',
        values: expect.arrayContaining([{ label: 'Owner', value: 'the record of Owners' }]),
      },
      {
        table: 'Visits',
        did: 'added',
        values: expect.arrayContaining([{ label: 'Craft', value: 'the record of Craft' }]),
      },
    ]);
    expect(await counts()).toEqual(before);
  });

  test('a rule that asks lets a record of another table through with a reason, which its history tells', async () => {
    const rule = {
      id: 'long',
      kind: 'ask',
      when: null,
      at: 'length',
      message: 'Longer than 15 m: who has agreed?',
      must: {
        kind: 'compare',
        left: { kind: 'form', path: 'length' },
        operator: 'atMost',
        right: { kind: 'constant', value: 15 },
      },
    };
    expect((await builder.call('PATCH', `/api/tables/${CRAFT}`, { rules: [rule] })).status).toBe(200);
    const [owner, craft] = DESTINATIONS.of;
    const added = { ...DESTINATIONS, of: [owner, { ...craft, does: 'add', key: [] }] };
    expect((await publish(withDestinations(added))).status).toBe(200);
    const long = visit(450, { craft__length: 18 });
    const asked = await enter(long);
    expect([asked.status, asked.body.errors[0].path]).toEqual([422, 'craft__length']);
    const reasons = { craft__long: 'the harbour master' };
    const send = (base: string, who: Client) =>
      who.call('POST', `${base}/entries`, { values: long, reasons }, { 'idempotency-key': `reason-${++keys}` });
    expect((await send(form, clerk)).status).toBe(200);
    const last = (await rowsOf(CRAFT)).at(-1);
    const { body: history } = await builder.call('GET', `/api/tables/${CRAFT}/records/${last?.id}/history`);
    expect(JSON.stringify(history)).toContain('the harbour master');
    // A public page knows the rule as well, with what it reads.
    const { body: page } = await office.anonymous.call('GET', '/api/public/visit');
    expect(page.tables.find((one: { id: string }) => one.id === CRAFT).rules).toHaveLength(1);
    expect((await send('/api/public/visit', office.anonymous)).status).toBe(200);
    expect((await builder.call('PATCH', `/api/tables/${CRAFT}`, { rules: [] })).status).toBe(200);
    expect((await publish(withDestinations())).status).toBe(200);
  });

  test('a record that is there is opened and changed by its own fields', async () => {
    const { body } = await enter(visit(500));
    const changed = await clerk.call(
      'POST',
      `${form}/entries`,
      { record: body.record.id, version: body.record.version, values: { nights: 9 } },
      { 'idempotency-key': 'destinations-change' },
    );
    expect([changed.status, changed.body.record?.values.nights]).toEqual([200, 9]);
    const other = await clerk.call(
      'POST',
      `${form}/entries`,
      { record: body.record.id, version: 2, values: { owner__name: 'Other' } },
      { 'idempotency-key': 'destinations-other' },
    );
    expect(other.status).toBe(422);
  });
});

test('lines belong to the record of a destination, read it before it is there, and go with it', async () => {
  const { body: crew } = await builder.call('POST', '/api/cabinets/quay/tables', { label: 'Crew' });
  for (const one of [
    field('Craft', 'link', { table: CRAFT }, { required: true }),
    field('Name', 'text', {}, { required: true }),
    field('Of length', 'decimal', { places: 1 }),
  ])
    await builder.call('POST', `/api/tables/${crew.id}/fields`, one);
  await builder.call('PATCH', `/api/tables/${crew.id}/fields/of_length`, { calculation: 'craft.length * 2.0' });
  const lines = {
    kind: 'subform',
    id: 'crew',
    table: crew.id,
    link: 'craft',
    of: 'craft',
    fields: [placed('name'), placed('of_length')],
  };
  const [main] = withDestinations().sections;
  const sections = [{ ...main, items: [...(main?.items ?? []), lines] }];
  const ready = await publish(withDestinations(DESTINATIONS, { sections }));
  expect(ready.findings.filter((one) => one.weight === 'must')).toEqual([]);
  const sent = (values: object, names: string[], key: string) =>
    clerk.call(
      'POST',
      `${form}/entries`,
      { values, lines: { crew: names.map((name, at) => ({ key: `l${at}`, values: { name } })) } },
      { 'idempotency-key': key },
    );
  expect((await sent(visit(600), ['Ada', 'Bram'], 'crew-of-600')).status).toBe(200);
  const craft = (await rowsOf(CRAFT)).find((one) => one.registration === 'GS-600');
  const aboard = async () => (await rowsOf(crew.id)).map((one) => [one.craft, one.name, Number(one.of_length)]);
  expect(await aboard()).toEqual([
    [craft?.id, 'Ada', 16],
    [craft?.id, 'Bram', 16],
  ]);
  // A record that is found gets them as well.
  expect((await sent(visit(600), ['Cas'], 'crew-again-600')).status).toBe(200);
  expect((await aboard()).at(-1)?.slice(0, 2)).toEqual([craft?.id, 'Cas']);
  const before = await counts();
  const wrong = await sent(visit(601), ['Dan', ''], 'crew-of-601');
  expect([wrong.status, await counts()]).toEqual([200, before.map((count) => count + 1)]);
  // A line that cannot be written takes all with it.
  const blank = await clerk.call(
    'POST',
    `${form}/entries`,
    { values: visit(602), lines: { crew: [{ key: 'l1', values: { name: 7 } }] } },
    { 'idempotency-key': 'crew-of-602' },
  );
  expect(blank.status).toBe(422);
  expect(await counts()).toEqual(before.map((count) => count + 1));

  // An answer that is erased takes its own lines with it, and not those of a craft that has the number of its visit.
  const { owner } = office.database.databases;
  const page = { slug: 'crew', intro: '', thanks: '', disclosed: [], eraseAfterDays: 30 };
  await publish(withDestinations(DESTINATIONS, { sections, page }));
  const answered = await office.anonymous.call(
    'POST',
    '/api/public/crew/entries',
    { values: visit(610), lines: { crew: [{ key: 'l1', values: { name: 'Eda' } }] } },
    { 'idempotency-key': 'crew-of-610' },
  );
  expect(answered.status).toBe(200);
  const { rows } = await owner.raw("SELECT (records->0->>'record')::integer AS visit FROM fiche.answer");
  const through = { kind: 'seed', label: 'test' } as const;
  await asActor(owner, { name: 'harbourmaster', through }, async (write) => {
    await write.raw(
      `INSERT INTO data.quay_craft (id, registration, owner) OVERRIDING SYSTEM VALUE
       SELECT ?, 'GS-same-number', min(id) FROM data.quay_owners ON CONFLICT DO NOTHING`,
      [rows[0].visit],
    );
    await write.raw("INSERT INTO data.quay_crew (craft, name) VALUES (?, 'Fia')", [rows[0].visit]);
  });
  await owner.raw("UPDATE fiche.answer SET at = at - interval '31 days'");
  await eraseOldAnswers(owner);
  const names = (await aboard()).map(([, name]) => name);
  expect(names).toContain('Fia');
  expect(names).not.toContain('Eda');
  expect((await rowsOf(CRAFT)).map((one) => one.registration)).not.toContain('GS-610');
  expect((await rowsOf(OWNERS)).map((one) => one.name)).not.toContain('Owner 610');
  expect(await owner('fiche.answer').first('not_erased')).toEqual({ not_erased: null });
});

test('what cannot be written is a finding, in words', async () => {
  const found = async (next: object) => {
    const saved = await builder.call('PUT', `${form}/draft`, { definition: next, revision });
    revision = saved.body.revision;
    return saved.body.findings
      .filter((one: { weight: string }) => one.weight === 'must')
      .map((one: { message: string }) => one.message)
      .join(' | ');
  };
  const links = [...DESTINATIONS.links, { of: 'owner', field: 'craft', to: 'craft' }];
  expect(await found(withDestinations({ ...DESTINATIONS, links }))).toContain('craft of Owners is not there');
  const [owner, craft] = DESTINATIONS.of;
  expect(await found(withDestinations({ ...DESTINATIONS, of: [{ ...owner, key: [] }, craft] }))).toContain(
    'choose a key field',
  );
  expect(await found(withDestinations({ ...DESTINATIONS, of: [{ ...owner, key: ['phone'] }, craft] }))).toContain(
    'Phone, which nothing on the form gives',
  );
  expect(await found(withDestinations({ ...DESTINATIONS, links: DESTINATIONS.links.slice(1) }))).toContain('Owner');
  const copies = [{ from: 'craft__length', of: 'self', to: 'asked_by' }];
  expect(await found(withDestinations({ ...DESTINATIONS, copies }))).toContain('Choose a field of the same type');
  const twice = [...DESTINATIONS.copies, { from: 'owner__e_mail', of: 'self', to: 'asked_by' }];
  expect(await found(withDestinations({ ...DESTINATIONS, copies: twice }))).toContain('Two values go to Asked by');
  expect(await found(withDestinations(DESTINATIONS, { opensOn: 'rows' }))).toContain('opens on rows');
  expect(
    await found(withDestinations({ ...DESTINATIONS, of: [...DESTINATIONS.of, { ...craft, id: 'idle' }] })),
  ).toContain('Nothing on the form goes to Craft');
});
