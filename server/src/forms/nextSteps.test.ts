import type { DefinedForm } from '@fiche/core/forms';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { addLimitedRoles } from '../fixtures/limitedRoles.ts';
import { type Answer, type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;
const form = '/api/forms/quay_check_in';

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office);
  builder = await office.signIn('harbourmaster');
});
afterAll(() => office.close());

/** Publishes a form with other next steps. */
async function publish(address: string, steps: Partial<DefinedForm>): Promise<Answer> {
  const { body: draft } = await builder.call('GET', `${address}/draft`);
  const saved = await builder.call('PUT', `${address}/draft`, {
    definition: { ...draft.definition, ...steps },
    revision: draft.revision,
  });
  if (saved.status !== 200) return saved;
  return builder.call('POST', `${address}/publish`, { revision: saved.body.revision });
}

test('a form is not published with a button or a next form that is not there, or a field that is not', async () => {
  const start = { label: 'Go on', form: 'quay_arrival', pairs: [{ from: 'note', to: 'note' }] };
  const refused = await publish(form, {
    after: { kind: 'form', form: 'quay_gone' },
    starts: [
      { ...start, form: 'quay_gone' },
      { ...start, pairs: [{ from: 'gone', to: 'note' }] },
    ],
  });
  expect([refused.status, refused.body.errors.map((one: { path: string }) => one.path)]).toEqual([
    422,
    ['starts.0', 'starts.1', 'after'],
  ]);
  expect((await publish(form, { after: { kind: 'blank' }, starts: [start] })).status).toBe(200);
});

test('a role gets its buttons without the fields that are hidden from it, and a public page has none', async () => {
  const start = {
    label: 'Go on',
    form: 'quay_check_in',
    pairs: [
      { from: 'note', to: 'note' },
      { from: 'registration', to: 'registration' },
    ],
  };
  await publish(form, { starts: [start] });
  await publish('/api/forms/quay_arrival', { after: { kind: 'list' }, starts: [start] });
  const blind = await office.signIn('theblind');
  const { body } = await blind.call('GET', form);
  expect(body.definition.starts).toEqual([{ ...start, pairs: [{ from: 'registration', to: 'registration' }] }]);
  const page = await office.anonymous.call('GET', '/api/public/arrival');
  expect(page.status).toBe(200);
  expect([page.body.definition.starts, page.body.definition.after]).toEqual([undefined, undefined]);
});
