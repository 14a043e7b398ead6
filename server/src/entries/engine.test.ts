import { all, is } from '@fiche/core/conditions';
import type { DefinedForm, PlacedField } from '@fiche/core/forms';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let clerk: Client;
let builder: Client;
beforeAll(async () => {
  office = await testOffice();
  [clerk, builder] = [await office.signIn('quayclerk'), await office.signIn('harbourmaster')];
});
afterAll(() => office.close());

const form = (path: string) => ({ kind: 'form' as const, path });
const column = (path: string) => ({ kind: 'column' as const, path });
const constant = (value: string | number | boolean) => ({ kind: 'constant' as const, value });

/** Makes a form of stays, changes it, publishes it. Returns its id. */
async function publish(
  label: string,
  own: Record<string, Partial<PlacedField>>,
  more: Partial<DefinedForm> = {},
): Promise<string> {
  const { body: made } = await builder.call('POST', '/api/cabinets/quay/forms', { table: 'quay_stays', label });
  const { body: draft } = await builder.call('GET', `/api/forms/${made.id}/draft`);
  const [section] = draft.definition.sections;
  const items = section.items.map((item: PlacedField) => ({ ...item, ...own[item.field] }));
  const definition = { ...draft.definition, ...more, sections: [{ ...section, items }] };
  const saved = await builder.call('PUT', `/api/forms/${made.id}/draft`, { definition, revision: draft.revision });
  expect(saved.status, saved.text).toBe(200);
  const done = await builder.call('POST', `/api/forms/${made.id}/publish`, { revision: saved.body.revision });
  expect(done.status, done.text).toBe(200);
  return made.id as string;
}

let keys = 0;
const send = (id: string, values: object, more: object = {}) =>
  clerk.call('POST', `/api/forms/${id}/entries`, { values, ...more }, { 'idempotency-key': `engine-${++keys}-test` });
const problems = (answer: { body: { errors: { path: string; rule: string }[] } }) =>
  answer.body.errors.map(({ path, rule }) => `${path} ${rule}`);

describe('against requests that skip the page', () => {
  test('every group of a narrowing holds', async () => {
    const id = await publish('Grouped', {
      berth: {
        narrowing: {
          where: all(is(column('pontoon.harbour'), form('harbour')), {
            kind: 'group',
            match: 'none',
            of: [
              { kind: 'compare', left: column('longest'), operator: 'less', right: form('length') },
              is(column('number'), constant('B-1')),
            ],
          }),
          sort: null,
          show: [],
          only: false,
        },
      },
    });
    expect((await send(id, { harbour: 1, length: 10, berth: 2 })).status).toBe(200);
    for (const values of [
      { harbour: 1, length: 10, berth: 1 },
      { harbour: 1, length: 10, berth: 3 },
      { harbour: 1, length: 10, berth: 4 },
    ])
      expect(problems(await send(id, values))).toEqual(['berth choice']);
    const { body } = await clerk.call('POST', `/api/forms/${id}/why`, {
      field: 'berth',
      values: { harbour: 1, length: 10 },
    });
    expect(body.of).toBe('Berths');
    expect(body.steps.map((step: { left: number; words: string }) => `${step.left} ${step.words}`)).toEqual([
      '3 Pontoon’s Harbour is this form’s Harbour',
      '1 none of these: Longest is less than this form’s Length; Number is B-1',
    ]);
    expect(body.steps[0].used).toEqual([{ label: 'this form’s Harbour', value: 'Gannet Quay' }]);
    const open = await clerk.call('POST', `/api/forms/${id}/why`, { field: 'berth', values: {} });
    expect(open.body.steps[0]).toMatchObject({ state: 'open', left: 4 });
  });

  test('a narrowing that hangs on the form alone counts for all choices or for none, on opening and on saving', async () => {
    const short = is(form('note'), constant('short'));
    const fits = {
      kind: 'compare' as const,
      left: column('longest'),
      operator: 'atMost' as const,
      right: constant(10),
    };
    const id = await publish('Conditional', {
      berth: {
        narrowing: {
          where: all({ kind: 'group', match: 'any', of: [{ kind: 'group', match: 'none', of: [short] }, fits] }),
          sort: null,
          show: [],
          only: false,
        },
      },
    });
    const offered = async (note: string | null) => {
      const { status, body } = await clerk.call('POST', `/api/forms/${id}/choices`, {
        field: 'berth',
        values: { note },
      });
      return [status, body.choices?.length];
    };
    const { body } = await builder.call('GET', '/api/tables/quay_berths/records?limit=200');
    const lengths: number[] = body.records.map((one: { values: { longest: number } }) => one.values.longest);
    const fitting = lengths.filter((length) => length <= 10).length;
    expect(fitting).toBeLessThan(lengths.length);
    expect([await offered('short'), await offered('long'), await offered(null)]).toEqual([
      [200, fitting],
      [200, lengths.length],
      [200, lengths.length],
    ]);
    const long = body.records.find((one: { values: { longest: number } }) => one.values.longest > 10).id;
    expect(problems(await send(id, { harbour: 1, note: 'short', berth: long }))).toEqual(['berth choice']);
    expect((await send(id, { harbour: 1, note: 'long', berth: long })).status).toBe(200);
  });

  test('what is hidden is not saved, what is required under a condition is, and what is calculated is not believed', async () => {
    const late = all(is(form('note'), constant('late')));
    const id = await publish('Hidden', {
      persons: { shownWhen: late },
      registration: { requiredWhen: late },
      length: { calculation: 'berth.longest - 0.5' },
    });
    const plain = await send(id, { harbour: 1, berth: 2, persons: 5, length: 90, note: 'on time' });
    expect(plain.body.record.values).toMatchObject({ persons: null, length: 11.5 });
    expect(problems(await send(id, { harbour: 1, note: 'late', persons: 5 }))).toEqual(['registration required']);
    const full = await send(id, { harbour: 1, note: 'late', persons: 5, registration: 'GS-0421' });
    expect(full.body.record.values).toMatchObject({ persons: 5, length: null });
  });

  test('an ask rule lets through with a reason, which goes into the history', async () => {
    const id = await publish(
      'Asked',
      {},
      {
        rules: [
          {
            id: 'crowd',
            kind: 'ask',
            when: null,
            must: { kind: 'compare', left: form('persons'), operator: 'atMost', right: constant(10) },
            at: 'persons',
            message: 'That many persons?',
            examples: [],
          },
        ],
      },
    );
    const silent = await send(id, { harbour: 1, persons: 12 });
    expect(silent.status).toBe(422);
    expect(silent.body.errors[0]).toMatchObject({ path: 'persons', rule: 'crowd', asks: true });
    expect((await send(id, { harbour: 1, persons: 12 }, { reasons: { crowd: '  ' } })).status).toBe(422);
    const told = await send(id, { harbour: 1, persons: 12 }, { reasons: { crowd: 'A school class.', other: 'x' } });
    expect(told.status).toBe(200);
    const { record } = told.body;
    const history = () => clerk.call('GET', `/api/tables/quay_stays/records/${record.id}/history`);
    expect((await history()).body.lines[0]).toMatchObject({
      through: 'Asked, version 1',
      reasons: ['“That many persons?” accepted with reason: A school class.'],
    });
    // A change of something else does not ask again; a change of what decides does.
    const change = (values: object, reasons: object = {}, version = record.version) =>
      send(id, values, { record: record.id, version, reasons });
    expect((await change({ note: 'x' })).status).toBe(200);
    expect(problems(await change({ persons: 13 }, {}, record.version + 1))).toEqual(['persons crowd']);
    expect((await change({ persons: 13 }, { crowd: 'Two more came.' }, record.version + 1)).status).toBe(200);
    expect((await history()).body.lines[0].reasons.join()).toContain('Two more came.');
  });
});

test('where a filled value came from is kept; a source that has changed since is told, and taken over', async () => {
  const sent = { harbour: 1, registration: 'GS-0007', length: 6 };
  const { body } = await clerk.call(
    'POST',
    '/api/forms/quay_check_in/entries',
    { values: sent },
    { 'idempotency-key': 'origin-test-1' },
  );
  const read = async () => (await clerk.call('GET', `/api/tables/quay_stays/records/${body.record.id}`)).body;
  expect((await read()).origins).toMatchObject({
    length: { by: 'registration', value: 6, table: 'quay_vessels', record: 2, from: 'length', title: 'Tystie' },
    vessel: { from: 'self', value: 2 },
  });
  const vessel = (await clerk.call('GET', '/api/tables/quay_vessels/records/2')).body;
  await clerk.call('POST', '/api/tables/quay_vessels/entries', {
    record: 2,
    version: vessel.version,
    values: { length: 6.4 },
  });
  expect((await read()).origins.length).toMatchObject({ value: 6, now: 6.4 });
  const changed = await clerk.call('POST', '/api/forms/quay_check_in/entries', {
    record: body.record.id,
    version: body.record.version,
    values: { length: 6.4 },
  });
  expect(changed.status, changed.text).toBe(200);
  const { length } = (await read()).origins;
  expect(length).toMatchObject({ value: 6.4 });
  expect(length.now).toBeUndefined();
});

test('a calculation of a table holds on every path, whatever its form shows', async () => {
  const field = { label: 'Nights', type: 'wholeNumber' };
  expect((await builder.call('POST', '/api/tables/quay_stays/fields', { field })).status).toBe(200);
  const patch = (calculation: string) => builder.call('PATCH', '/api/tables/quay_stays/fields/nights', { calculation });
  expect((await patch('days(arrival, nights)')).status).toBe(422);
  expect((await patch('arrivel')).body.errors[0].message).toContain('“arrivel” is not a field or function here.');
  expect((await patch('note')).body.errors[0].message).toContain('this gives text');
  expect((await patch('days(arrival, departure)')).status).toBe(200);
  const stay = { harbour: 1, arrival: '2026-08-17T10:00', departure: '2026-08-20T09:00' };
  // Its form was made before the field was.
  const { body } = await clerk.call(
    'POST',
    '/api/forms/quay_check_in/entries',
    { values: stay },
    { 'idempotency-key': 'nights-test-1' },
  );
  expect(body.record.values.nights).toBe(3);
  const own = await clerk.call(
    'POST',
    '/api/tables/quay_stays/entries',
    { values: { ...stay, nights: 40 } },
    { 'idempotency-key': 'nights-test-2' },
  );
  expect(own.body.record.values.nights).toBe(3);
});

test('versions are listed, an old one is tried without writing, and a rule is tried on the records that are there', async () => {
  const id = await publish('Versioned', { note: { required: true } });
  const { body: draft } = await builder.call('GET', `/api/forms/${id}/draft`);
  const [section] = draft.definition.sections;
  const items = section.items.map((item: PlacedField) => (item.field === 'note' ? { ...item, required: false } : item));
  const definition = { ...draft.definition, sections: [{ ...section, items }] };
  const saved = await builder.call('PUT', `/api/forms/${id}/draft`, { definition, revision: draft.revision });
  expect(saved.body).toMatchObject({ changes: 1, changedSince: true });
  await builder.call('POST', `/api/forms/${id}/publish`, { revision: saved.body.revision });
  const { body } = await builder.call('GET', `/api/forms/${id}/versions`);
  expect(body.versions.map((one: { number: number; by: string }) => `${one.number} ${one.by}`)).toEqual([
    '2 harbourmaster',
    '1 harbourmaster',
  ]);
  expect((await clerk.call('GET', `/api/forms/${id}/versions`)).status).toBe(403);
  const tried = (more: object) =>
    builder.call(
      'POST',
      `/api/forms/${id}/draft/entries`,
      { values: { harbour: 1 }, ...more },
      { 'idempotency-key': `tried-${++keys}-test` },
    );
  expect(problems(await tried({ formVersion: 1 }))).toEqual(['note required']);
  expect((await tried({})).status).toBe(200);
  expect((await tried({ as: 'clerk' })).status).toBe(200);
  expect((await tried({ as: 'auditor' })).body.detail).toBe('Auditor may not add records of Stays.');

  const rule = {
    id: 'few',
    kind: 'stop',
    when: null,
    must: { kind: 'compare', left: form('persons'), operator: 'atMost', right: constant(12) },
    at: 'persons',
    message: 'At most twelve.',
  };
  const trial = await builder.call('POST', `/api/forms/${id}/trial`, { rule });
  expect(trial.body).toMatchObject({ breaks: 1, examples: [{ value: 'Persons 13', why: 'At most twelve.' }] });
  expect(trial.body.looked).toBe(trial.body.of);
  const far = { ...rule, must: { kind: 'expression', source: 'length <= berth.longest' }, at: 'length' };
  expect((await builder.call('POST', `/api/forms/${id}/trial`, { rule: far })).body.breaks).toBe(0);
});

test('the proof looks at the records, too: a value under which nothing can be chosen', async () => {
  await office.database.databases.owner.raw(
    "SELECT set_config('fiche.actor', 'harbourmaster', false); INSERT INTO data.quay_pontoons (letter, harbour) VALUES ('Z', 2)",
  );
  const { body } = await builder.call('GET', '/api/forms/quay_check_in/draft');
  const found = body.findings.filter((one: { rule: string }) => one.rule === 'emptyParent');
  expect(found).toEqual([
    expect.objectContaining({
      path: 'berth',
      weight: 'look',
      message: 'Berth has no choices under 1 value of Pontoon: “Z”.',
    }),
  ]);
});

test('what was begun on a public page can be finished for a day after a newer version, and is closed after that', async () => {
  const { begun } = (await office.anonymous.call('GET', '/api/public/arrival')).body;
  const { body: draft } = await builder.call('GET', '/api/forms/quay_arrival/draft');
  const definition = { ...draft.definition, label: 'Arrival', page: { ...draft.definition.page, intro: 'Newer.' } };
  const saved = await builder.call('PUT', '/api/forms/quay_arrival/draft', { definition, revision: draft.revision });
  expect(
    (await builder.call('POST', '/api/forms/quay_arrival/publish', { revision: saved.body.revision })).status,
  ).toBe(200);
  const ask = (formVersion: number) =>
    office.anonymous.call(
      'POST',
      '/api/public/arrival/choices',
      { field: 'harbour', values: {}, formVersion },
      { 'x-fiche-begun': begun },
    );
  expect((await ask(1)).status).toBe(200);
  // Who names the old version without having begun on it does not get it.
  const { begun: newer } = (await office.anonymous.call('GET', '/api/public/arrival')).body;
  for (const token of [undefined, newer, `1.9999999999.${begun.split('.')[2]}`]) {
    const headers: Record<string, string> = token === undefined ? {} : { 'x-fiche-begun': token };
    const body = { field: 'harbour', values: {}, formVersion: 1 };
    expect((await office.anonymous.call('POST', '/api/public/arrival/choices', body, headers)).status).toBe(409);
  }
  await office.database.databases.owner.raw(
    "UPDATE fiche.form_version SET published_at = now() - interval '25 hours' WHERE form_id = 'quay_arrival'",
  );
  const late = await ask(1);
  expect(late.status).toBe(409);
  expect(late.body.detail).toContain('This form has changed since you opened it.');
  expect((await ask(2)).status).toBe(200);
  expect((await ask(9)).status).toBe(409);
});

test('a public page tells nobody why, and refuses what its narrowing does not offer', async () => {
  const why = await office.anonymous.call('POST', '/api/public/arrival/why', { field: 'berth', values: {} });
  expect(why.status).toBe(404);
  const sent = await office.anonymous.call(
    'POST',
    '/api/public/arrival/entries',
    { values: { harbour: 2, pontoon: 1 } },
    { 'idempotency-key': 'public-test-1' },
  );
  expect(problems(sent)).toEqual(['pontoon choice']);
});
