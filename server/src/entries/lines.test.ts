import { all, is } from '@fiche/core/conditions';
import { type DefinedForm, placeLines } from '@fiche/core/forms';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { loadDefinitions } from '../definitions/index.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { addServices } from '../fixtures/services.ts';
import { holdAnswer } from '../spam/index.ts';

let office: TestOffice;
let clerk: Client;
let builder: Client;
const ids: Record<string, number> = {};

const column = (path: string) => ({ kind: 'column' as const, path });

beforeAll(async () => {
  office = await testOffice();
  [clerk, builder] = [await office.signIn('quayclerk'), await office.signIn('harbourmaster')];
  Object.assign(ids, await addServices(office));
  const form = await builder.call('POST', '/api/cabinets/quay/forms', { table: 'quay_stays', label: 'Billing' });
  const { tables } = await loadDefinitions(office.services.databases.app);
  const table = tables.get('quay_used');
  if (!table) throw new Error('no table');
  const lines = placeLines(table, 'stay', new Set());
  const { body: draft } = await builder.call('GET', `/api/forms/${form.body.id}/draft`);
  const definition = draft.definition as DefinedForm;
  const subform = {
    ...lines,
    fields: lines.fields.map((one) =>
      one.field === 'service'
        ? {
            ...one,
            narrowing: {
              where: all(is(column('harbour'), { kind: 'enclosing', path: 'harbour' })),
              sort: null,
              show: [],
              only: false,
            },
            fill: {
              table: 'quay_tariff',
              key: null,
              whenNone: 'nothing',
              pairs: [{ from: 'rate', to: 'rate', policy: 'replace' }],
            },
          }
        : one,
    ),
  };
  const next = {
    ...definition,
    sections: definition.sections.map((section) => ({
      ...section,
      items: [
        ...section.items.map((item) =>
          'field' in item && item.field === 'length' ? { ...item, calculation: 'sum(used.amount)' } : item,
        ),
        subform,
      ],
    })),
    page: { slug: 'billing', intro: '', thanks: 'Thank you.', disclosed: [] },
  };
  const first = await builder.call('PUT', `/api/forms/${form.body.id}/draft`, {
    definition: next,
    revision: draft.revision,
  });
  // What its public page tells strangers is confirmed, as a builder does.
  const disclosed = first.body.findings.flatMap((one: { confirm?: string }) => one.confirm ?? []);
  const saved = await builder.call('PUT', `/api/forms/${form.body.id}/draft`, {
    definition: { ...next, page: { ...next.page, disclosed } },
    revision: first.body.revision,
  });
  expect(saved.body.findings.filter((one: { weight: string }) => one.weight === 'must')).toEqual([]);
  await builder.call('POST', `/api/forms/${form.body.id}/publish`, { revision: saved.body.revision });
});
afterAll(() => office.close());

const FORM = '/api/forms/quay_billing';
let keys = 0;
const enter = (body: object, who = clerk, key = `lines-${++keys}-test`) =>
  who.call('POST', `${FORM}/entries`, body, { 'idempotency-key': key });
const line = (service: string, quantity: number, more: object = {}) => ({
  key: `l${service}${quantity}`.replace('.', ''),
  values: { service: ids[service], quantity },
  ...more,
});
const open = async (id: number) =>
  (await clerk.call('GET', `/api/tables/quay_stays/records/${id}?form=quay_billing&version=1`)).body;
const problems = (answer: { body: { errors: { path: string; rule: string }[] } }) =>
  answer.body.errors.map(({ path, rule }) => `${path} ${rule}`);
const count = async (table: string) => (await clerk.call('GET', `/api/tables/${table}/records`)).body.total;

describe('lines', () => {
  test('are saved with their record, filled, calculated, linked and stamped, in one transaction', async () => {
    const { status, body } = await enter({
      values: { harbour: 1 },
      lines: { used: [line('Crane', 2), line('Water', 0.5)] },
    });
    expect(status).toBe(200);
    expect(body.record.values.length).toBe(132.1);
    const stay = await open(body.record.id);
    expect(stay.lines.used.map((one: { values: object }) => one.values)).toMatchObject([
      { service: ids.Crane, quantity: 2, rate: 65, amount: 130, stay: stay.id },
      { service: ids.Water, quantity: 0.5, rate: 4.1, amount: 2.05 },
    ]);
    expect(stay.lines.used[0].stamp.createdBy).toBe('quayclerk');
    expect(stay.lines.used[0].origins.rate.title).toBe('Crane');
    const ledger = await clerk.call('GET', `/api/tables/quay_used/records/${stay.lines.used[0].id}/history`);
    const own = await clerk.call('GET', `/api/tables/quay_stays/records/${stay.id}/history`);
    expect(ledger.body.lines[0].transaction).toBe(own.body.lines[0].transaction);
    // Beside the record its lines are told without the link to it, which goes without saying.
    const whole = await clerk.call('GET', `/api/tables/quay_stays/records/${stay.id}/history?form=quay_billing`);
    const fields = (one: { changes: { field: string }[] }) => one.changes.map((change) => change.field);
    expect(fields(ledger.body.lines[0])).toContain('stay');
    const added = whole.body.lines.filter((one: { table: string }) => one.table === 'quay_used');
    expect(added.map(fields)).toEqual([
      ['service', 'quantity', 'rate', 'amount'],
      ['service', 'quantity', 'rate', 'amount'],
    ]);
  });

  test('all or nothing: a bad line refuses the whole, each problem at its cell', async () => {
    const before = [await count('quay_stays'), await count('quay_used')];
    const refused = await enter({
      values: { harbour: 1 },
      lines: {
        used: [line('Crane', 1), line('Elsewhere', 1), { key: 'l9', values: { service: ids.Crane, quantity: 'x' } }],
      },
    });
    expect(refused.status).toBe(422);
    expect(problems(refused)).toEqual(['used[l9].quantity form', 'used[lElsewhere1].service choice']);
    expect([await count('quay_stays'), await count('quay_used')]).toEqual(before);
  });

  test('the same save sent twice, also at once, makes its lines once', async () => {
    const before = await count('quay_used');
    const body = { values: { harbour: 1 }, lines: { used: [line('Crane', 1), line('Water', 1)] } };
    const answers = await Promise.all([1, 2, 3].map(() => enter(body, clerk, 'lines-twice-is-once')));
    expect(answers.map((one) => one.status)).toEqual([200, 200, 200]);
    expect(new Set(answers.map((one) => one.body.record.id)).size).toBe(1);
    expect(await count('quay_used')).toBe(before + 2);
  });

  test('a changed record: a line changed, one archived, one added, another order; sent again, it is answered alike', async () => {
    const { body } = await enter({
      values: { harbour: 1 },
      lines: { used: [line('Crane', 1), line('Water', 2), line('Water', 3)] },
    });
    const [crane, two, three] = (await open(body.record.id)).lines.used;
    const change = {
      record: body.record.id,
      version: body.record.version,
      values: {},
      lines: {
        used: [
          { key: 'a', id: three.id, version: 1 },
          { key: 'b', id: crane.id, version: 1, values: { quantity: 5 } },
          { key: 'c', id: two.id, version: 1, archived: true },
          line('Water', 9),
        ],
      },
    };
    const first = await enter(change, clerk, 'lines-change-once');
    expect(first.body.record.values.length).toBeCloseTo(5 * 65 + 3 * 4.1 + 9 * 4.1);
    const again = await enter(change, clerk, 'lines-change-once');
    expect([again.status, again.body.record.version]).toEqual([200, first.body.record.version]);
    const after = await open(body.record.id);
    expect(after.lines.used.map((one: { values: { quantity: number } }) => one.values.quantity)).toEqual([3, 5, 9]);
    const gone = await clerk.call('GET', `/api/tables/quay_used/records/${two.id}`);
    expect(gone.body.archived).toBe(true);
  });

  test('lines of another record, or that are archived, are not this one’s', async () => {
    const a = await enter({ values: { harbour: 1 }, lines: { used: [line('Crane', 1)] } });
    const b = await enter({ values: { harbour: 1 } });
    const [foreign] = (await open(a.body.record.id)).lines.used;
    const refused = await enter({
      record: b.body.record.id,
      version: 1,
      values: {},
      lines: { used: [{ key: 'x', id: foreign.id, version: 1, values: { quantity: 9 } }] },
    });
    expect(problems(refused)).toEqual(['used[x]. line']);
  });

  test('a narrowing by the record around is asked with its values, and explained', async () => {
    const asked = (harbour: number) =>
      clerk.call('POST', `${FORM}/choices`, {
        field: 'service',
        within: { subform: 'used', values: { harbour } },
        values: {},
      });
    const titles = async (harbour: number) =>
      (await asked(harbour)).body.choices.map((one: { title: string }) => one.title);
    expect(await titles(1)).toEqual(['Crane', 'Water']);
    expect(await titles(2)).toEqual(['Elsewhere']);
    const why = await clerk.call('POST', `${FORM}/why`, {
      field: 'service',
      within: { subform: 'used', values: { harbour: 2 } },
      values: {},
    });
    expect(why.body.steps.at(-1).left).toBe(1);
  });

  test('a line whose record changes around it is held to its narrowing, whoever skips the page', async () => {
    const { body } = await enter({ values: { harbour: 1 }, lines: { used: [line('Crane', 1)] } });
    const { id } = body.record;
    const [crane] = (await open(id)).lines.used;
    // The line is named only, or not at all: it does not belong to the other harbour either way.
    const move = (used: object[]) => enter({ record: id, version: 1, values: { harbour: 2 }, lines: { used } });
    const named = await move([{ key: 'a', id: crane.id, version: 1 }]);
    expect(problems(named)).toEqual(['used[a].service choice']);
    expect(named.body.errors[0].message).toContain('Harbour');
    expect(problems(await move([]))).toEqual([`used[kept${crane.id}].service choice`]);
    expect((await move([{ key: 'a', id: crane.id, version: 1, archived: true }])).status).toBe(200);
  });

  test('a line that somebody has just changed is not archived unseen', async () => {
    const { body } = await enter({ values: { harbour: 1 }, lines: { used: [line('Crane', 1)] } });
    const { id } = body.record;
    const [crane] = (await open(id)).lines.used;
    const change = (one: object, who: Client) =>
      enter(
        { record: id, version: 1, values: {}, lines: { used: [{ key: 'a', id: crane.id, version: 1, ...one }] } },
        who,
      );
    await change({ values: { quantity: 4 } }, builder);
    const late = await change({ archived: true }, clerk);
    expect(late.status).toBe(409);
    expect(late.body.errors).toEqual([{ path: 'used[a].', rule: 'version', message: 'harbourmaster' }]);
  });

  test('500 lines are decided and written in one request', async () => {
    const used = Array.from({ length: 500 }, (_, n) => ({
      key: `l${n}`,
      values: { service: n % 2 ? ids.Crane : ids.Water, quantity: 1 },
    }));
    const { status, body } = await enter({ values: { harbour: 1 }, lines: { used } });
    expect(status).toBe(200);
    expect(body.record.values.length).toBe(250 * 69.1);
    expect((await open(body.record.id)).lines.used).toHaveLength(500);
  });

  test('a public page adds lines, and touches none that are there', async () => {
    const sent = await office.anonymous.call(
      'POST',
      '/api/public/billing/entries',
      { values: { harbour: 1 }, lines: { used: [line('Crane', 2)] } },
      { 'idempotency-key': 'page-with-lines' },
    );
    expect(sent.status).toBe(200);
    const { body } = await enter({ values: { harbour: 1 }, lines: { used: [line('Crane', 1)] } });
    const [own] = (await open(body.record.id)).lines.used;
    const refused = await office.anonymous.call(
      'POST',
      '/api/public/billing/entries',
      { values: { harbour: 1 }, lines: { used: [{ key: 'a', id: own.id, version: 1, values: { quantity: 9 } }] } },
      { 'idempotency-key': 'page-with-foreign-lines' },
    );
    expect(refused.status).toBe(403);
    const page = await office.anonymous.call('GET', '/api/public/billing');
    const disclosed = page.body.tables.find((one: { id: string }) => one.id === 'quay_used');
    expect(disclosed.fields.map((one: { id: string }) => one.id)).toContain('quantity');
  });
});

describe('two people', () => {
  test('different fields merge, in the record and in a line; the same field says who wrote the other value', async () => {
    const { body } = await enter({ values: { harbour: 1, note: 'a' }, lines: { used: [line('Crane', 1)] } });
    const { id } = body.record;
    const [crane] = (await open(id)).lines.used;
    const all = { harbour: 1, note: 'a', persons: null };
    const change = (values: object, used: object, who: Client) =>
      enter(
        { record: id, version: 1, values, lines: { used: [{ key: 'l1', id: crane.id, version: 1, ...used }] } },
        who,
      );
    const same = { values: { service: crane.values.service, quantity: 1, rate: 65 } };
    expect((await change({ ...all, persons: 4 }, { values: { ...same.values, quantity: 3 } }, builder)).status).toBe(
      200,
    );
    const mine = await change({ ...all, note: 'b' }, { values: { ...same.values, rate: 60 } }, clerk);
    expect(mine.status).toBe(200);
    expect(mine.body.record.values).toMatchObject({ note: 'b', persons: 4 });
    expect((await open(id)).lines.used[0].values).toMatchObject({ quantity: 3, rate: 60, amount: 180 });
    const late = await change({ ...all, persons: 5 }, { values: { ...same.values, quantity: 7 } }, clerk);
    expect(late.status).toBe(409);
    expect(late.body.errors).toEqual([
      { path: 'persons', rule: 'version', message: 'harbourmaster' },
      { path: 'used[l1].quantity', rule: 'version', message: 'harbourmaster' },
    ]);
    expect(late.body.current.lines.used[0].values.quantity).toBe(3);
  });

  test('a record that was archived meanwhile says so', async () => {
    const { body } = await enter({ values: { harbour: 1 } });
    await builder.call('POST', `/api/tables/quay_stays/records/${body.record.id}/archive`, { version: 1 });
    const late = await enter({ record: body.record.id, version: 1, values: { note: 'x' } });
    expect(late.status).toBe(409);
    expect(late.body.detail).toContain('harbourmaster has archived this record meanwhile');
  });
});

test('a held answer is shown with its lines in words, and counted at its form', async () => {
  const body = { values: { harbour: 1 }, formVersion: 1, lines: { used: [line('Crane', 2)] } };
  const { app } = office.services.databases;
  await holdAnswer(app, {
    form: 'quay_billing',
    version: 1,
    why: 'test',
    body: body as never,
    key: 'held-lines',
    access: {},
  });
  const { answers } = (await clerk.call('GET', '/api/forms/quay_billing/held')).body;
  expect(answers[0].lines).toEqual([
    {
      label: expect.any(String),
      lines: [
        [
          { label: 'Service', value: 'Crane' },
          { label: 'Quantity', value: '2.00' },
        ],
      ],
    },
  ]);
  const { forms } = (await clerk.call('GET', '/api/cabinets/quay')).body;
  expect(forms.find((one: { id: string }) => one.id === 'quay_billing').held).toBe(1);
});

describe('a subform that a view feeds', () => {
  test('shows, saves and counts on its own lines only, and not where the form adds up what is left out', async () => {
    const { body: view } = await builder.call('POST', '/api/tables/quay_used/views', {
      definition: {
        label: 'Large ones',
        columns: [{ path: 'quantity' }],
        filter: all({
          kind: 'compare',
          left: column('quantity'),
          operator: 'atLeast',
          right: { kind: 'constant', value: 5 },
        }),
        shared: true,
      },
    });
    const made = await builder.call('POST', '/api/cabinets/quay/forms', { table: 'quay_stays', label: 'Large' });
    const { tables } = await loadDefinitions(office.services.databases.app);
    const used = tables.get('quay_used');
    if (!used) throw new Error('no table');
    const { body: draft } = await builder.call('GET', `/api/forms/${made.body.id}/draft`);
    const withLines = (more: object) => ({
      ...draft.definition,
      sections: draft.definition.sections.map((section: { items: object[] }, at: number) => ({
        ...section,
        items:
          at === 0
            ? [...section.items, { ...placeLines(used, 'stay', new Set()), view: view.id, ...more }]
            : section.items,
      })),
    });
    const counted = await builder.call('PUT', `/api/forms/${made.body.id}/draft`, {
      definition: withLines({ least: 1 }),
      revision: draft.revision,
    });
    expect(counted.body.findings.map((one: { message: string }) => one.message)).toContainEqual(
      expect.stringContaining('shows the lines of a view only'),
    );
    const plain = await builder.call('PUT', `/api/forms/${made.body.id}/draft`, {
      definition: withLines({}),
      revision: counted.body.revision,
    });
    const published = await builder.call('POST', `/api/forms/${made.body.id}/publish`, {
      revision: plain.body.revision,
    });
    expect(published.status).toBe(200);

    const entered = await enter({
      values: { harbour: 1 },
      lines: { used: [line('Water', 2), line('Water', 7), line('Water', 9)] },
    });
    expect(entered.status).toBe(200);
    const stay = entered.body.record.id;
    const read = async (form: string) =>
      (await clerk.call('GET', `/api/tables/quay_stays/records/${stay}?form=${form}`)).body;
    const opened = await read(made.body.id);
    const shown = opened.lines.used.map((one: { values: { quantity: number } }) => one.values.quantity);
    expect(shown).toEqual([7, 9]);
    const [seven] = opened.lines.used;
    const saved = await clerk.call(
      'POST',
      `/api/forms/${made.body.id}/entries`,
      {
        record: stay,
        version: opened.version,
        values: {},
        lines: { used: [{ key: `r${seven.id}`, id: seven.id, version: seven.version, values: { quantity: 8 } }] },
      },
      { 'idempotency-key': 'lines-of-a-view' },
    );
    expect(saved.status).toBe(200);
    const whole = (await read('quay_billing')).lines.used.map(
      (one: { values: { quantity: number } }) => one.values.quantity,
    );
    expect(whole).toEqual([2, 8, 9]);
  });
});
