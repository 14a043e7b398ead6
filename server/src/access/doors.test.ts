import { readFileSync } from 'node:fs';
import { tablesNamed } from '@fiche/core/tables';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
let stranger: Client;
let keys = 0;
const key = () => ({ 'idempotency-key': `doors-test-${++keys}` });
const owner = () => office.database.databases.owner;
const asBuilder = (sql: string) =>
  asActor(owner(), { name: 'harbourmaster', through: { kind: 'tables', label: 'test' } }, (transaction) =>
    transaction.raw(sql),
  );

beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
  stranger = await office.signIn('stranger');
  await stranger.call('POST', '/api/cabinets/other/tables', { label: 'Mine' });
  await stranger.call('POST', '/api/tables/other_mine/fields', { field: { label: 'Name', type: 'text' } });
  await stranger.call('POST', '/api/cabinets/other/forms', { table: 'other_mine', label: 'Mine' });
});
afterAll(() => office.close());

describe('a builder of another cabinet', () => {
  const foreign = 'quay_berths';
  const draft = async () => (await stranger.call('GET', '/api/forms/other_mine/draft')).body;
  const saved = async (change: (definition: { sections: { items: object[] }[] }) => object) => {
    const { definition, revision } = await draft();
    return stranger.call('PUT', '/api/forms/other_mine/draft', {
      definition: { ...definition, ...change(definition) },
      revision,
    });
  };
  const inSection = (definition: { sections: { items: object[] }[] }, item: object) => ({
    sections: [{ ...definition.sections[0], items: [...(definition.sections[0]?.items ?? []), item] }],
  });

  test.each([
    ['a link', { type: 'link', settings: { table: foreign } }],
    ['several links', { type: 'links', settings: { table: foreign } }],
    ['a level of a list', { type: 'choice', settings: { level: { table: foreign, column: 'secret' } } }],
  ])('makes no field that names its tables: %s', async (_what, field) => {
    const made = await stranger.call('POST', '/api/tables/other_mine/fields', { field: { label: 'Theirs', ...field } });
    expect(made.status).toBe(422);
    expect(made.body.detail).toContain('not a table of this cabinet');
    const changed = await stranger.call('POST', '/api/tables/other_mine/fields/name/type', {
      ...field,
      unconverted: 'blank',
      revision: undefined,
    });
    expect(changed.status).toBe(422);
  });

  test('saves no form that names one: its lines, its fills', async () => {
    const lines = {
      kind: 'subform',
      id: 'theirs',
      table: foreign,
      link: 'pontoon',
      label: 'Theirs',
      show: 'rows',
      items: [{ field: 'number' }],
      rules: [],
    };
    const withLines = await saved((definition) => inSection(definition, lines));
    const fill = {
      table: foreign,
      key: 'number',
      whenNone: 'nothing',
      pairs: [{ from: 'secret', to: 'name', policy: 'replace' }],
    };
    const withFill = await saved(({ sections }) => ({
      sections: [{ ...sections[0], items: (sections[0]?.items ?? []).map((one) => ({ ...one, fill })) }],
    }));
    for (const answer of [withLines, withFill]) {
      expect(answer.status).toBe(422);
      expect(JSON.stringify(answer.body)).not.toContain('secret-value');
    }
    expect((await stranger.call('POST', '/api/cabinets/other/forms', { table: foreign, label: 'Theirs' })).status).toBe(
      422,
    );
    expect(
      (await stranger.call('POST', '/api/tables/other_mine/copies', { from: foreign, fields: ['secret'] })).status,
    ).toBeGreaterThanOrEqual(400);
  });

  test('uses none either, should a definition that names one be stored already', async () => {
    await asBuilder(`UPDATE fiche.form SET draft = jsonb_set(draft, '{sections,0,items,0,fill}',
      '{"table": "quay_berths", "key": "number", "whenNone": "nothing", "pairs": [{"from": "secret", "to": "name", "policy": "replace"}]}') WHERE id = 'other_mine'`);
    await asBuilder(`UPDATE fiche.cabinet SET revision = revision + 1 WHERE id = 'other'`);
    const looked = await stranger.call('POST', '/api/forms/other_mine/draft/lookups', { field: 'name', key: 'A-1' });
    expect(looked.body.found ?? []).toEqual([]);
  });

  test('every place of a definition that can name a table calls it so, where the one walk finds it', async () => {
    const { forms, tables } = await loadDefinitions(owner());
    for (const id of ['quay_check_in', 'quay_arrival'])
      expect(tablesNamed(forms.get(id)?.draft)).toContain('quay_stays');
    for (const table of tables.values())
      for (const field of table.fields)
        if (JSON.stringify(field.settings).includes('quay_'))
          expect(tablesNamed(field.settings).length, field.id).toBeGreaterThan(0);
    // A schema that names a table by another word would be walked past.
    const sources = [
      'forms/form.ts',
      'fills/fill.ts',
      'fields/link.ts',
      'fields/links.ts',
      'fields/choice.ts',
      'narrowing/narrowing.ts',
    ];
    for (const file of sources) {
      let text = '';
      try {
        text = readFileSync(new URL(`../../../core/src/${file}`, import.meta.url), 'utf8');
      } catch {
        continue;
      }
      expect(
        text.match(/\b\w*[tT]able\w*:\s*(?:idSchema|z\.string)/g)?.filter((one) => !/^table:/.test(one)) ?? [],
        file,
      ).toEqual([]);
    }
  });
});

describe('an option list', () => {
  test('is changed by builders only, by whatever door', async () => {
    const { body } = await builder.call('POST', '/api/cabinets/quay/lists', {
      label: 'Faults',
      levels: ['System', 'Part'],
    });
    expect(
      (
        await builder.call(
          'POST',
          `/api/tables/${body.id}/entries`,
          { values: { system: 'Shore', part: 'Lamp' } },
          key(),
        )
      ).status,
    ).toBe(200);
    const refused = await clerk.call(
      'POST',
      `/api/tables/${body.id}/entries`,
      { values: { system: 'Shore', part: 'Bin' } },
      key(),
    );
    expect(refused).toMatchObject({ status: 403, body: { detail: expect.stringContaining('is an option list') } });
    expect((await clerk.call('POST', `/api/tables/${body.id}/records/1/archive`, { version: 1 })).status).toBe(403);
  });
});

test('who does not build reads no records by a form that is not published', async () => {
  const { body } = await builder.call('POST', '/api/cabinets/quay/forms', { table: 'quay_stays', label: 'Not yet' });
  expect((await builder.call('GET', `/api/forms/${body.id}/records`)).status).toBe(200);
  expect((await clerk.call('GET', `/api/forms/${body.id}/records`)).status).toBe(404);
});

test('a key of a save stands for its address and body: elsewhere it is refused, never answered with another’s result', async () => {
  const same = { 'idempotency-key': 'one-key-for-two' };
  const first = await clerk.call('POST', '/api/tables/quay_harbours/entries', { values: { name: 'Gull Bay' } }, same);
  expect(first.status).toBe(200);
  expect(
    (await clerk.call('POST', '/api/tables/quay_harbours/entries', { values: { name: 'Gull Bay' } }, same)).body,
  ).toEqual(first.body);
  for (const [url, values] of [
    ['/api/tables/quay_vessels/entries', { name: 'Gull Bay' }],
    ['/api/tables/quay_harbours/entries', { name: 'Another' }],
  ] as const)
    expect((await clerk.call('POST', url, { values }, same)).status).toBe(422);
});

describe('a public page tells no more than it shows', () => {
  const choices = (search: string, field = 'berth') =>
    office.anonymous.call('POST', '/api/public/arrival/choices', { field, values: {}, search });

  test('a search looks into what a choice shows', async () => {
    await asBuilder(`UPDATE data.quay_berths SET secret = 'owner-is-broke' WHERE id = 2`);
    expect((await choices('broke')).body.choices).toEqual([]);
    expect((await choices('A-2')).body.choices).toHaveLength(1);
    const staff = await clerk.call('POST', '/api/forms/quay_check_in/choices', {
      field: 'berth',
      values: {},
      search: 'broke',
    });
    expect(staff.body.choices).toHaveLength(1);
  });

  test('a key finds the values that its fill copies, at one pace, and guessers are stopped', async () => {
    const look = async (sent: string) => {
      const begun = performance.now();
      const answer = await office.anonymous.call('POST', '/api/public/arrival/lookups', {
        field: 'registration',
        key: sent,
      });
      return { ...answer, ms: performance.now() - begun };
    };
    const [found, missing] = [await look('GS-0421'), await look('GS-9999')];
    expect(found.body.found).toHaveLength(1);
    expect(JSON.stringify(found.body)).not.toContain('secret');
    expect(missing.body.found).toEqual([]);
    for (const one of [found, missing]) expect(one.ms).toBeGreaterThan(140);
    const many = await Promise.all(Array.from({ length: 60 }, (_, n) => look(`GS-${n}`)));
    expect(many.some((one) => one.status === 429)).toBe(true);
  });
});

describe('a database that is busy', () => {
  test('answers 503 or 409 in time, and readiness answers throughout', async () => {
    const lock = await owner().transaction();
    await lock.raw('LOCK TABLE data.quay_berths IN ACCESS EXCLUSIVE MODE');
    let answered = 0;
    const waiting = Array.from({ length: 25 }, () =>
      clerk.call('GET', '/api/tables/quay_berths/records').finally(() => answered++),
    );
    const health = await office.anonymous.call('GET', '/api/ready');
    // All others wait for the lock still.
    expect([health.status, answered]).toEqual([200, 0]);
    const answers = await Promise.all(waiting);
    await lock.rollback();
    expect(new Set(answers.map((one) => one.status))).toEqual(
      new Set([409, 503].filter((status) => answers.some((one) => one.status === status))),
    );
    expect(answers.every((one) => [409, 503].includes(one.status))).toBe(true);
    expect((await clerk.call('GET', '/api/tables/quay_berths/records')).status).toBe(200);
  });
});
