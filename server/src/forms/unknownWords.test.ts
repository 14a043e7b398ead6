import { all, is } from '@fiche/core/conditions';
import { type DefinedForm, placeField } from '@fiche/core/forms';
import { newFieldSchema } from '@fiche/core/tables';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { addField, createTable } from '../tables/index.ts';
import { createForm } from './index.ts';
import { unknownWords } from './unknownWords.ts';

let office: TestOffice;
let builder: Client;
const actor = { name: 'harbourmaster', through: { kind: 'tables', label: 'Tables' } } as const;
const level = (column: string) => ({ level: { table: 'quay_faults', column } });

beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  await builder.call('POST', '/api/cabinets/quay/lists', { label: 'Faults', levels: ['System', 'Part'] });
  await builder.call('POST', '/api/tables/quay_faults/combinations', { add: [['Shore', 'Water']] });
  await asActor(office.database.databases.owner, actor, async (owner) => {
    await createTable(owner, 'quay', 'Repairs', '');
    const add = (field: object) => addField(owner, 'quay_repairs', newFieldSchema.parse(field));
    await add({ label: 'System', type: 'choice', settings: level('system') });
    await add({ label: 'Part', type: 'choice', settings: level('part') });
    await add({ label: 'Diver', type: 'yesNo' });
    await createForm(owner, 'quay', 'quay_repairs', 'Repair');
  });
});
afterAll(() => office.close());

/** What is found in a form that shows the diver only for a word of a level. */
async function findingsFor(word: string): Promise<readonly { message: string; path: string; weight: string }[]> {
  const { tables } = await loadDefinitions(office.database.databases.app);
  const fields = (tables.get('quay_repairs')?.fields ?? []).map(placeField);
  const shown = all(is({ kind: 'form', path: 'part' }, { kind: 'constant', value: word }));
  const items = fields.map((one) => (one.field === 'diver' ? { ...one, shownWhen: shown } : one));
  const form: DefinedForm = {
    label: 'Repair',
    table: 'quay_repairs',
    may: { add: true, change: true, archive: true },
    opensOn: 'blank',
    view: null,
    showStamp: true,
    sections: [{ id: 'main', label: '', columns: 3, shownWhen: null, items }],
    rules: [],
    page: null,
  };
  return unknownWords(office.database.databases.app, form, tables);
}

test('a word that an option list does not have is a finding where it is compared; one that it has is none', async () => {
  expect(await findingsFor('Water')).toEqual([]);
  expect(await findingsFor('Watter')).toMatchObject([
    {
      path: 'diver',
      weight: 'look',
      message:
        'Whether Diver is shown depends on a comparison that cannot hold: “Watter” is not in the option list Faults › Part.',
    },
  ]);
  // A combination that is out of use offers its words no more.
  const { owner } = office.database.databases;
  await asActor(owner, actor, (transaction) => transaction.raw('UPDATE data.quay_faults SET archived_at = now()'));
  expect(await findingsFor('Water')).toHaveLength(1);
});

test('the form editor is told of it with the other findings', async () => {
  const { body } = await builder.call('GET', '/api/forms/quay_repair/draft');
  const items = body.definition.sections[0].items.map((item: { field?: string }) =>
    item.field === 'diver'
      ? { ...item, shownWhen: all(is({ kind: 'form', path: 'system' }, { kind: 'constant', value: 'Sea' })) }
      : item,
  );
  const sections = [{ ...body.definition.sections[0], items }];
  const saved = await builder.call('PUT', '/api/forms/quay_repair/draft', {
    definition: { ...body.definition, sections },
    revision: body.revision,
  });
  expect(saved.body.findings).toContainEqual(
    expect.objectContaining({ message: expect.stringContaining('“Sea” is not in the option list Faults › System') }),
  );
});
