import { all, is } from '@fiche/core/conditions';
import { type DefinedForm, isField } from '@fiche/core/forms';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { addLimitedRoles } from '../fixtures/limitedRoles.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
let view: { id: number; revision: number };
const form = '/api/forms/quay_check_in';
const column = (path: string) => ({ kind: 'column' as const, path });
const atLeast = (value: number) => ({
  kind: 'compare' as const,
  left: column('longest'),
  operator: 'atLeast' as const,
  right: { kind: 'constant' as const, value },
});
const definition = (more: object = {}) => ({
  label: 'Long berths',
  columns: [{ path: 'number' }],
  filter: all(atLeast(12)),
  shared: true,
  ...more,
});

beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
  view = (await builder.call('POST', '/api/tables/quay_berths/views', { definition: definition() })).body;
});
afterAll(() => office.close());

/** Publishes the form with another narrowing of its berth. */
async function feed(narrowing: object) {
  const draft = (await builder.call('GET', `${form}/draft`)).body;
  const fed = (one: DefinedForm): DefinedForm => ({
    ...one,
    sections: one.sections.map((section) => ({
      ...section,
      items: section.items.map((item) =>
        isField(item) && item.field === 'berth'
          ? { ...item, narrowing: { where: all(), sort: null, show: [], only: false, ...narrowing } }
          : item,
      ),
    })),
  });
  const saved = await builder.call('PUT', `${form}/draft`, {
    definition: fed(draft.definition),
    revision: draft.revision,
  });
  expect(saved.status).toBe(200);
  return builder.call('POST', `${form}/publish`, { revision: saved.body.revision });
}
const offered = async (values: object = {}, who = clerk, base = form) =>
  (await who.call('POST', `${base}/choices`, { field: 'berth', values })).body.choices.map(
    (one: { value: number }) => one.value,
  );
const longest = async (): Promise<Map<number, number>> => {
  const { body } = await builder.call('GET', '/api/tables/quay_berths/records?limit=200');
  return new Map(body.records.map((one: { id: number; values: { longest: number } }) => [one.id, one.values.longest]));
};

test('a dropdown offers what its view finds, within its own conditions, and takes nothing else on save', async () => {
  expect((await feed({ view: view.id })).status).toBe(200);
  const lengths = await longest();
  const wanted = [...lengths].filter(([, length]) => length >= 12).map(([id]) => id);
  expect(wanted.length).toBeGreaterThan(0);
  expect(wanted.length).toBeLessThan(lengths.size);
  expect((await offered()).sort()).toEqual(wanted.sort());
  const short = [...lengths].find(([, length]) => length < 12)?.[0];
  const save = (berth: number | undefined) =>
    clerk.call('POST', `${form}/entries`, { values: { harbour: 1, berth } }, { 'idempotency-key': `feeding-${berth}` });
  const refused = await save(short);
  expect([refused.status, refused.body.errors[0].path]).toEqual([422, 'berth']);
  // The table's own card is not fed by the view.
  expect((await offered({}, clerk, '/api/tables/quay_stays')).length).toBe(lengths.size);
  const own = all(is(column('pontoon'), { kind: 'constant', value: 1 }));
  expect((await feed({ view: view.id, where: own })).status).toBe(200);
  const both = await offered();
  expect(both.every((id: number) => wanted.includes(id))).toBe(true);
});

test('why a choice is not offered names the view, and a change of the view counts at once', async () => {
  expect((await feed({ view: view.id })).status).toBe(200);
  const why = (await clerk.call('POST', `${form}/why`, { field: 'berth', values: {} })).body;
  expect(why.steps.at(-1).words).toContain('the view that says what is offered finds it: Longest is at least 12');
  const changed = await builder.call('PUT', `/api/tables/quay_berths/views/${view.id}`, {
    definition: definition({ filter: all(atLeast(1_000)) }),
    revision: view.revision,
  });
  expect(changed.status).toBe(200);
  expect(await offered()).toEqual([]);
});

test('a view that feeds a dropdown is not deleted, and none of another table or that is not there is published', async () => {
  const gone = await builder.call('DELETE', `/api/tables/quay_berths/views/${view.id}`);
  expect([gone.status, gone.body.detail]).toEqual([
    409,
    'Long berths is in use: it says what Berth offers in the form Check-in. Choose another view there first.',
  ]);
  const other = (
    await builder.call('POST', '/api/tables/quay_vessels/views', {
      definition: { ...definition(), filter: all(), columns: [{ path: 'name' }] },
    })
  ).body;
  for (const wrong of [other.id, 99_999]) {
    const published = await feed({ view: wrong });
    expect([published.status, published.body.errors[0].path]).toEqual([422, 'berth']);
    // Tried before it is published, it offers nothing, and no error.
    expect(await offered({}, builder, `${form}/draft`)).toEqual([]);
  }
});

test('whoever does not see what the view reads is not told it', async () => {
  await addLimitedRoles(office);
  const { body } = await builder.call('GET', '/api/tables/quay_berths/views');
  const fed = body.views.find((one: { id: number }) => one.id === view.id);
  const secret = all({
    ...atLeast(1),
    left: column('secret'),
    operator: 'is',
    right: { kind: 'constant', value: 'planted' },
  });
  const changed = await builder.call('PUT', `/api/tables/quay_berths/views/${view.id}`, {
    definition: definition({ filter: secret }),
    revision: fed.revision,
  });
  expect(changed.status).toBe(200);
  const blind = await office.signIn('theblind');
  const of = async (who: Client) =>
    JSON.stringify((await who.call('POST', `${form}/why`, { field: 'berth', values: {} })).body);
  expect(await of(builder)).toContain('planted');
  const told = await of(blind);
  expect(told).toContain('the view that says what is offered');
  expect(told).not.toContain('planted');
});
