import { afterAll, beforeAll, expect, test } from 'vitest';
import { databaseBefore, type TestDatabase } from '../../fixtures/database.ts';
import { verifyLedger } from '../../history/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;
const by = (name: string) => ({ name, through: { kind: 'page', label: 'Round', version: 2 } }) as const;

/** An office as the version before left it: a public page with two answers, and a record that a colleague added. */
beforeAll(async () => {
  database = await databaseBefore('019');
  await asActor(owner(), by('harbourmaster'), async (write) => {
    await write('fiche.cabinet').insert({ id: 'quay', label: 'Quay' });
    await write.raw(
      `INSERT INTO fiche."table" (id, cabinet, label, position) VALUES ('quay_rounds', 'quay', 'Rounds', 0)`,
    );
    await write.raw("SELECT fiche.make_record_table('quay_rounds')");
    const form = { id: 'quay_round', cabinet: 'quay', table_id: 'quay_rounds', position: 0 };
    await write('fiche.form').insert({ ...form, draft: '{}', live_version: 2, slug: 'round' });
    await write.raw('INSERT INTO data.quay_rounds (archived_at) VALUES (NULL)');
  });
  await asActor(owner(), by('page:round'), async (write) => {
    for (let n = 0; n < 2; n++) await write.raw('INSERT INTO data.quay_rounds (archived_at) VALUES (NULL)');
    await write('fiche.held_answer').insert({ form_id: 'quay_round', version: 2, why: 'x', body: '{}', key: 'k' });
  });
});
afterAll(() => database.drop());

test('after the upgrade the answers that were taken before are listed, and the ledger holds', async () => {
  await migrate(owner(), database.ownerUrl);
  const answers = await owner()('fiche.answer').orderBy('id').select('version', 'reference', 'records');
  expect(answers).toEqual([
    { version: 2, reference: 'No. 2', records: [{ table: 'quay_rounds', record: 2, did: 'added' }] },
    { version: 2, reference: 'No. 3', records: [{ table: 'quay_rounds', record: 3, did: 'added' }] },
  ]);
  expect(await owner()('fiche.held_answer').first('access')).toEqual({ access: {} });
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});

test('a personal link is captured, and the application neither makes nor withdraws one', async () => {
  const link = { form_id: 'quay_round', table_id: 'quay_rounds', record: 1, once: true };
  await asActor(owner(), by('harbourmaster'), (write) => write('fiche.personal_link').insert(link));
  const { rows } = await owner().raw("SELECT kind, after FROM ledger.line WHERE place = 'fiche.personal_link'");
  expect(rows).toEqual([{ kind: 'add', after: { ...link, withdrawn: false } }]);
  await expect(database.databases.app.raw('UPDATE fiche.personal_link SET withdrawn = true')).rejects.toThrow(
    'permission denied',
  );
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});
