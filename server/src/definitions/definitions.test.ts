import { newFieldSchema } from '@fiche/core/tables';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { asActor, connect, disconnect } from '../database/index.ts';
import { freshDatabase, type TestDatabase } from '../fixtures/database.ts';
import { createForm, publishForm } from '../forms/index.ts';
import { addField, changeField, createCabinet, createTable, retireField, returnField } from '../tables/index.ts';
import { loadDefinitions, loadTable } from './index.ts';

const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'test' } } as const;

let database: TestDatabase;
beforeAll(async () => {
  database = await freshDatabase();
  await asActor(database.databases.owner, actor, async (transaction) => {
    await createCabinet(transaction, 'quay', 'Quay');
    for (const label of ['Berths', 'Vessels']) {
      const table = await createTable(transaction, 'quay', label, '');
      await addField(transaction, table.id, newFieldSchema.parse({ label: 'Name', type: 'text' }));
      await createForm(transaction, 'quay', table.id, label);
    }
  });
});
afterAll(() => database.drop());

/** What somebody reads who has read nothing before. */
async function readAnew() {
  const anew = connect(database.ownerUrl, { app: 1, owner: 1 });
  try {
    return await loadDefinitions(anew.owner);
  } finally {
    await disconnect(anew);
  }
}

const step = fc.record({
  table: fc.constantFrom('quay_berths', 'quay_vessels'),
  what: fc.constantFrom('add', 'change', 'twice', 'retire', 'return', 'publish', 'nothing'),
  undone: fc.boolean(),
  readInside: fc.boolean(),
});

test('what is kept of definitions is never older than the database, in and out of transactions that are taken back', async () => {
  const { owner, app } = database.databases;
  let added = 0;
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 1, maxLength: 5 }), async (steps) => {
      for (const { table, what, undone, readInside } of steps) {
        const last = async (retired: boolean) =>
          (await loadTable(owner, table))?.[retired ? 'retired' : 'fields'].at(-1)?.id;
        await asActor(owner, actor, async (transaction) => {
          const rename = (help: string) => changeField(transaction, table, 'name', { help });
          if (what === 'add')
            await addField(transaction, table, newFieldSchema.parse({ label: `More ${++added}`, type: 'text' }));
          if (what === 'change') await rename(`Said ${++added}`);
          if (what === 'twice') {
            await rename(`First ${++added}`);
            if (readInside) await loadDefinitions(transaction);
            await rename(`Then ${added}`);
          }
          const present = await last(false);
          if (what === 'retire' && present !== undefined && present !== 'name')
            await retireField(transaction, table, present);
          const gone = await last(true);
          if (what === 'return' && gone !== undefined) await returnField(transaction, table, gone);
          const form = [...(await loadDefinitions(transaction)).forms.values()].find((one) => one.table === table);
          if (what === 'publish' && form) await publishForm(transaction, form.id, form.draftRevision);
          if (readInside)
            expect((await loadDefinitions(transaction)).tables.get(table)).toEqual(await loadTable(transaction, table));
          if (undone) throw new Error('taken back');
        }).catch((error) => {
          if (error.message !== 'taken back') throw error;
        });
        const anew = await readAnew();
        expect(await loadDefinitions(owner)).toEqual(anew);
        expect(await loadDefinitions(app)).toEqual(anew);
      }
    }),
    { numRuns: 12 },
  );
});
