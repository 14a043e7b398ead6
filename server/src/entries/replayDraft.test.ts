import { afterAll, beforeAll, expect, test } from 'vitest';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
const owner = () => office.database.databases.owner;

let keys = 0;
const save = async (values: object): Promise<number> => {
  const { status, body } = await clerk.call(
    'POST',
    '/api/forms/quay_check_in/entries',
    { values: { harbour: 1, ...values } },
    { 'idempotency-key': `again-${++keys}-0000` },
  );
  expect(status, JSON.stringify(body)).toBe(200);
  return body.record.id;
};
const replay = async () => (await builder.call('POST', '/api/forms/quay_check_in/draft/replay')).body;
/** Changes the draft of the form. */
const draft = async (
  change: (definition: { rules: object[]; sections: { items: { field?: string; required?: boolean }[] }[] }) => void,
) => {
  const { body } = await builder.call('GET', '/api/forms/quay_check_in/draft');
  change(body.definition);
  const url = '/api/forms/quay_check_in/draft';
  const saved = await builder.call('PUT', url, { definition: body.definition, revision: body.revision });
  expect(saved.status, JSON.stringify(saved.body)).toBe(200);
};
const rule = (id: string, kind: 'stop' | 'ask', field: string, most: number) => ({
  id,
  kind,
  when: null,
  at: field,
  message: `${field} is at most ${most}.`,
  examples: [],
  must: {
    kind: 'compare',
    left: { kind: 'form', path: field },
    operator: 'atMost',
    right: { kind: 'constant', value: most },
  },
});

beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
});
afterAll(() => office.close());

test('what was saved is decided again under the draft: as it was, refused, asked about, filled otherwise', async () => {
  await save({ persons: 2 });
  const many = await save({ persons: 12, note: 'regatta' });
  const filled = await save({ persons: 1, registration: 'GS-0421' });
  expect(await replay()).toMatchObject({ looked: 3, counts: { refused: 0, asked: 0, differ: 0 } });

  await draft((definition) => {
    definition.rules.push(rule('crowd', 'stop', 'persons', 10), rule('long', 'ask', 'length', 11));
    for (const item of definition.sections[0]?.items ?? []) if (item.field === 'note') item.required = true;
  });
  const found = await replay();
  expect(found.counts).toEqual({ refused: 3, asked: 0, differ: 0 });
  const { title } = (await builder.call('GET', `/api/tables/quay_stays/records/${many}`)).body;
  expect(found.refused).toContainEqual({ record: many, title, field: 'Persons', message: 'persons is at most 10.' });
  expect(found.refused.filter((one: { field: string }) => one.field === 'Note')).toHaveLength(2);
  expect(found.asked).toEqual([expect.objectContaining({ record: filled, message: 'length is at most 11.' })]);

  // What the form fills today is told where it is another value; nothing of all this was written.
  await draft((definition) => {
    definition.rules = [];
    for (const item of definition.sections[0]?.items ?? []) if (item.field === 'note') item.required = false;
  });
  await owner().raw("UPDATE data.quay_vessels SET length = 9.5 WHERE registration = 'GS-0421'");
  const again = await replay();
  expect(again.counts).toEqual({ refused: 0, asked: 0, differ: 1 });
  expect(again.differ).toEqual([
    expect.objectContaining({ record: filled, field: 'Length', message: '11.2 would be filled as 9.5' }),
  ]);
  expect(Number((await owner()('data.quay_stays').where({ id: filled }).first()).length)).toBe(11.2);
});

test('500 records are decided again well within the time that a builder waits, the newest first', async () => {
  await owner().transaction(async (write) => {
    await write.raw("SELECT set_config('fiche.actor', 'quayclerk', true), set_config('fiche.through', ?, true)", [
      JSON.stringify({ kind: 'form', label: 'Check-in', version: 1 }),
    ]);
    await write.raw('INSERT INTO data.quay_stays (harbour, persons) SELECT 1, 3 FROM generate_series(1, 600)');
  });
  expect(await replay()).toMatchObject({ looked: 500, counts: { refused: 0 } });
});

test('a form that was never published has nothing to decide again', async () => {
  const made = await builder.call('POST', '/api/cabinets/quay/forms', {
    table: 'quay_stays',
    label: 'Fresh',
    fields: 'all',
  });
  const { status, body } = await builder.call('POST', `/api/forms/${made.body.id}/draft/replay`);
  expect([status, body.detail]).toEqual([422, expect.stringContaining('never published')]);
});
