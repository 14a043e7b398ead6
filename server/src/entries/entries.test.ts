import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let clerk: Client;
let builder: Client;
let auditor: Client;
beforeAll(async () => {
  office = await testOffice();
  [clerk, builder, auditor] = [
    await office.signIn('quayclerk'),
    await office.signIn('harbourmaster'),
    await office.signIn('auditor'),
  ];
});
afterAll(() => office.close());

let keys = 0;
const enter = (values: object, who = clerk, url = '/api/forms/quay_check_in/entries', more: object = {}) =>
  who.call('POST', url, { values, ...more }, { 'idempotency-key': `entry-${++keys}-test` });
const problems = (answer: { body: { errors: { path: string; rule: string }[] } }) =>
  answer.body.errors.map(({ path, rule }) => `${path} ${rule}`);
const count = async () => (await clerk.call('GET', '/api/tables/quay_stays/records')).body.total;

describe('saving', () => {
  test('gives the sequence number, fills what was not sent, and stamps the account', async () => {
    const { status, body } = await enter({ berth: 2, registration: 'GS-0421', arrival: '2026-08-17T15:30' });
    expect(status).toBe(200);
    expect(body.reference).toMatch(/^STAY-\d{4}-00001$/);
    expect(body.record.values).toMatchObject({ harbour: 1, pontoon: 1, berth: 2, vessel: 1, length: 11.2 });
    expect(body.record.linked.vessel.title).toBe('Kittiwake Rose');
    expect(body.record.stamp.createdBy).toBe('quayclerk');
  });

  test('the same save sent twice, also at once, is written once and answered alike', async () => {
    const before = await count();
    const send = () =>
      clerk.call(
        'POST',
        '/api/forms/quay_check_in/entries',
        { values: { harbour: 1 } },
        { 'idempotency-key': 'twice-is-once' },
      );
    const answers = await Promise.all([send(), send(), send()]);
    expect(answers.map((one) => one.status)).toEqual([200, 200, 200]);
    expect(new Set(answers.map((one) => one.body.reference)).size).toBe(1);
    expect(await count()).toBe(before + 1);
    const other = await clerk.call(
      'POST',
      '/api/forms/quay_check_in/entries',
      { values: { harbour: 2 } },
      { 'idempotency-key': 'twice-is-once' },
    );
    expect(other.status).toBe(422);
  });

  test('a record changed meanwhile is refused with both values, and what is kept is the other’s', async () => {
    const { body } = await enter({ harbour: 1, note: 'first' });
    const { id, version } = body.record;
    const change = (note: string, who = clerk) =>
      who.call('POST', '/api/forms/quay_check_in/entries', { record: id, version, values: { note } });
    expect((await change('mine', builder)).body.record.values.note).toBe('mine');
    const late = await change('yours');
    expect(late.status).toBe(409);
    expect(late.body).toMatchObject({
      errors: [{ path: 'note', rule: 'version' }],
      current: { version: 2, values: { note: 'mine' } },
    });
    expect(late.body.detail).toContain('harbourmaster');
  });

  test('a copy of an earlier day stays when something else changes', async () => {
    const { body } = await enter({ harbour: 1, registration: 'GS-0421', length: 10.9 });
    const again = await clerk.call('POST', '/api/forms/quay_check_in/entries', {
      record: body.record.id,
      version: 1,
      values: { note: 'x' },
    });
    expect(again.body.record.values).toMatchObject({ length: 10.9, note: 'x' });
  });
});

describe('what is sent past the page is refused at its place, and nothing is written', () => {
  test.each([
    ['a choice that does not apply', { harbour: 2, pontoon: 1 }, ['pontoon choice']],
    [
      'a choice two levels down that belongs to another harbour',
      { harbour: 2, pontoon: null, berth: 1 },
      ['berth choice'],
    ],
    ['an archived choice', { harbour: 1, pontoon: 1, berth: 5 }, ['berth choice']],
    ['a link to a record that is not there', { harbour: 999_999 }, ['harbour choice']],
    ['a field that is not on the form', { harbour: 1, colour: 'red' }, ['colour field']],
    ['an audit field', { harbour: 1, created_by: 'auditor' }, ['created_by field']],
    ['a sequence number', { harbour: 1, number: 'STAY-2026-09999' }, ['number readOnly']],
    [
      'departure before arrival',
      { harbour: 1, arrival: '2026-08-19T10:00', departure: '2026-08-17T10:00' },
      ['departure after'],
    ],
    ['31 February', { harbour: 1, arrival: '2026-02-31T10:00' }, ['arrival form']],
    ['a number beyond its range', { harbour: 1, persons: 41 }, ['persons most']],
    ['a number beyond every column', { harbour: 1, length: 1e18 }, ['length form']],
    [
      'values of the wrong shape',
      { harbour: 'one', note: { text: 'x' }, persons: 'many' },
      ['harbour form', 'persons form', 'note form'],
    ],
    ['a key that no record has, where that refuses', { harbour: 1, registration: 'GS-9999' }, ['registration lookup']],
    ['a required field left out', { note: 'x' }, ['harbour required']],
  ])('%s', async (_what, values, expected) => {
    const before = await count();
    const answer = await enter(values);
    expect(answer.status).toBe(422);
    expect(problems(answer).sort()).toEqual([...expected].sort());
    expect(answer.body.errors.every((one: { message: string }) => one.message.length > 10)).toBe(true);
    expect(await count()).toBe(before);
  });

  test.each([
    ['a body that is not JSON', '{"values":', 400],
    ['a body of the wrong shape', '[]', 422],
    ['an unknown member', '{"values":{},"force":true}', 422],
    ['a body that is too large', `{"values":{"note":"${'x'.repeat(2_200_000)}"}}`, 413],
  ])('%s', async (_what, body, status) => {
    const answer = await clerk.call('POST', '/api/forms/quay_check_in/entries', body, {
      'idempotency-key': `bad-${++keys}-body`,
    });
    expect(answer.status).toBe(status);
    expect(answer.body.title).toBeTruthy();
  });

  test('a new record without an idempotency key', async () => {
    expect((await clerk.call('POST', '/api/forms/quay_check_in/entries', { values: { harbour: 1 } })).status).toBe(400);
  });

  test('a value that must be unique', async () => {
    const answer = await enter({ name: 'Copy', registration: 'GS-0421' }, clerk, '/api/tables/quay_vessels/entries');
    expect(problems(answer)).toEqual(['registration unique']);
  });
});

describe('dropdowns over HTTP', () => {
  const choices = async (values: object, field = 'berth', who = clerk, base = '/api/forms/quay_check_in') =>
    (await who.call('POST', `${base}/choices`, { field, values })).body.choices?.map(
      (one: { title: string; value: number }) => `${one.value} ${one.title}`,
    );

  test('are narrowed by every ancestor, without archived records, in people’s order', async () => {
    expect(await choices({ harbour: 1, pontoon: 1 })).toEqual(['1 A-1', '2 A-2']);
    expect(await choices({ harbour: 2 })).toEqual(['4 A-1']);
    expect(await choices({})).toHaveLength(4);
  });

  test('are the same on a public page, which tells nothing else', async () => {
    expect(await choices({ pontoon: 1 }, 'berth', office.anonymous, '/api/public/arrival')).toEqual(['1 A-1', '2 A-2']);
    const page = await office.anonymous.call('GET', '/api/public/arrival');
    expect(page.status).toBe(200);
    expect(JSON.stringify(page.body.tables)).not.toMatch(/secret|longest/i);
    expect(
      (await office.anonymous.call('POST', '/api/public/arrival/choices', { field: 'note', values: {} })).status,
    ).toBe(404);
  });

  test('a public entry is stamped as its page and answered with a reference only', async () => {
    const answer = await enter({ harbour: 1, note: 'from outside' }, office.anonymous, '/api/public/arrival/entries');
    expect(answer.body).toEqual({ record: null, reference: expect.stringMatching(/^STAY-/) });
    const { body } = await clerk.call('GET', '/api/tables/quay_stays/records?search=outside');
    expect(body.records[0].stamp.createdBy).toBe('page:arrival');
    const history = await auditor.call('GET', `/api/tables/quay_stays/records/${body.records[0].id}/history`);
    expect(history.body.lines[0]).toMatchObject({
      account: 'page:arrival',
      through: 'Arrival, version 1, public page',
      kind: 'add',
    });
    const change = await office.anonymous.call('POST', '/api/public/arrival/entries', {
      record: body.records[0].id,
      version: 1,
      values: { note: 'again' },
    });
    expect(change.status).toBe(403);
  });
});

test('history reads in words, and trying a draft writes nothing', async () => {
  const { body } = await enter({ harbour: 1, arrival: '2026-08-17T15:30' });
  await clerk.call('POST', '/api/forms/quay_check_in/entries', {
    record: body.record.id,
    version: 1,
    values: { harbour: 2, arrival: '2026-08-19T10:00' },
  });
  const { lines } = (await auditor.call('GET', `/api/tables/quay_stays/records/${body.record.id}/history`)).body;
  expect(lines[0].changes).toMatchObject([
    { field: 'harbour', label: 'Harbour', before: 'Gannet Quay', after: 'Tern Cove' },
    { field: 'arrival', label: 'Arrival', before: '17 Aug 2026, 15:30', after: '19 Aug 2026, 10:00' },
  ]);
  const before = await count();
  const tried = await builder.call('POST', '/api/forms/quay_check_in/draft/entries', { values: { harbour: 1 } });
  expect(tried.body).toEqual({ record: null, reference: '' });
  expect(await count()).toBe(before);
});
