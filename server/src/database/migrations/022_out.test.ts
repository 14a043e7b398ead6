import { afterAll, beforeAll, expect, test } from 'vitest';
import type { TestDatabase } from '../../fixtures/database.ts';
import { BEFORE_ACTOR as actor, officeBefore } from '../../fixtures/officeBefore.ts';
import { verifyLedger } from '../../history/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;
const app = () => database.databases.app;

/** As the version before left it, with an archived record. */
beforeAll(async () => {
  database = await officeBefore('022');
  await asActor(owner(), actor, (write) => write.raw('INSERT INTO data.quay_stays (archived_at) VALUES (now())'));
});
afterAll(() => database.drop());

test('after the upgrade the ledger holds, and what leaves the office is kept within rights', async () => {
  await migrate(owner(), database.ownerUrl);
  expect((await verifyLedger(owner())).misfits).toEqual([]);
  // Names are compared without accents, and by the letters in which they differ.
  const { rows: alike } = await owner().raw(
    "SELECT public.unaccent('Étoile') AS plain, public.levenshtein('Tystie', 'Tystey') AS letters",
  );
  expect(alike).toEqual([{ plain: 'Etoile', letters: 2 }]);
  await asActor(owner(), actor, (write) =>
    write('fiche.label_layout').insert({ table_id: 'quay_stays', label: 'Berth cards', definition: '{}' }),
  );
  await asActor(owner(), actor, (write) =>
    write('fiche.calendar_address').insert({
      table_id: 'quay_stays',
      account: 'harbourmaster',
      token_hash: 'secret',
      what: '{}',
    }),
  );
  const { rows: lines } = await owner().raw(
    "SELECT place, after->>'label' AS label, after->>'token_hash' AS secret FROM ledger.line WHERE place IN ('fiche.label_layout', 'fiche.calendar_address') ORDER BY id",
  );
  expect(lines).toEqual([
    { place: 'fiche.label_layout', label: 'Berth cards', secret: null },
    { place: 'fiche.calendar_address', label: null, secret: expect.not.stringContaining('secret') },
  ]);
  await asActor(app(), actor, (write) =>
    write('fiche.merged').insert({ table_id: 'quay_stays', record: 2, into_record: 1 }),
  );
  for (const rewritten of [
    app()('fiche.merged').update({ into_record: 2 }),
    app()('fiche.merged').delete(),
    app()('fiche.label_layout').update({ label: 'x' }),
    app()('fiche.calendar_address').update({ account: 'x' }),
    app()('fiche.export').update({ account: 'x' }),
  ])
    await expect(rewritten).rejects.toThrow('permission denied');
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});
