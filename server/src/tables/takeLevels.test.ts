import { newFieldSchema } from '@fiche/core/tables';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { addField, createTable } from './index.ts';

let office: TestOffice;
let builder: Client;
const actor = { name: 'harbourmaster', through: { kind: 'tables', label: 'Tables' } } as const;
const owner = () => office.database.databases.owner;
const levels = async () => (await builder.call('GET', '/api/tables/quay_repairs/levels')).body.levels;
const take = async (wanted: object[]) => {
  const reply = await builder.call('POST', '/api/tables/quay_repairs/levels', { levels: wanted });
  await office.services.tasks.idle();
  return reply;
};
const typesNow = async (): Promise<string[]> => {
  const { rows } = await owner().raw(`SELECT type FROM fiche.field WHERE table_id = 'quay_repairs' ORDER BY position`);
  return rows.map((row: { type: string }) => row.type);
};

beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  await builder.call('POST', '/api/cabinets/quay/lists', { label: 'Faults', levels: ['System', 'Part'] });
  await builder.call('POST', '/api/tables/quay_faults/combinations', {
    add: [
      ['Shore', 'Lighting'],
      ['Shore', 'Water'],
      ['Pontoon', 'Lighting'],
      ['Pontoon', 'Cleat'],
    ],
  });
  await asActor(owner(), actor, async (transaction) => {
    await createTable(transaction, 'quay', 'Repairs', '');
    for (const label of ['System', 'Part', 'Note'])
      await addField(transaction, 'quay_repairs', newFieldSchema.parse({ label, type: 'text' }));
    await transaction.raw(
      `INSERT INTO data.quay_repairs (system, part, note) VALUES ('Shore', 'Water', 'Shore'), ('Pontoon', 'Cleat', 'Loose'), ('Shore', 'Lighting', 'Dark')`,
    );
  });
});
afterAll(() => office.close());

test('fields that hold the words of a list are proposed for all its levels at once, and become choices', async () => {
  const proposed = await levels();
  expect(proposed).toEqual([
    { field: 'system', table: 'quay_faults', column: 'system' },
    { field: 'part', table: 'quay_faults', column: 'part' },
  ]);

  // A word that the list does not have refuses all of it: nothing is half done.
  await asActor(owner(), actor, (transaction) =>
    transaction.raw(`INSERT INTO data.quay_repairs (system, part) VALUES ('Shore', 'Crane')`),
  );
  const refused = await take(proposed);
  expect(refused.status).toBe(422);
  expect(refused.body.detail).toContain('1 value of Part is not in the option list, the first in record #4.');
  expect(await typesNow()).toEqual(['text', 'text', 'text']);

  await asActor(owner(), actor, (transaction) =>
    transaction.raw(`UPDATE data.quay_repairs SET part = 'Water' WHERE id = 4`),
  );
  expect((await take(proposed)).status).toBe(200);
  expect(await typesNow()).toEqual(['choice', 'choice', 'text']);
  expect(await levels()).toEqual([]);
});

test('levels of no list, and of another cabinet, are refused; a clerk is told nothing', async () => {
  const none = await take([{ field: 'note', table: 'quay_berths', column: 'number' }]);
  expect(none.status).toBe(422);
  const clerk = await office.signIn('quayclerk');
  expect((await clerk.call('GET', '/api/tables/quay_repairs/levels')).status).toBe(403);
});
