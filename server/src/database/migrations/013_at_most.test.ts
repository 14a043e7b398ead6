import { afterAll, beforeAll, expect, test } from 'vitest';
import { databaseBefore, type TestDatabase } from '../../fixtures/database.ts';
import { verifyLedger } from '../../history/index.ts';
import { enforceConstraint } from '../../tables/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;
const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'test' } } as const;

/** An office as the version before left it: a table with records. */
beforeAll(async () => {
  database = await databaseBefore('013');
  await asActor(owner(), actor, async (write) => {
    await write.raw(`INSERT INTO fiche.cabinet (id, label) VALUES ('quay', 'Quay');
      INSERT INTO fiche."table" (id, cabinet, label, description, position) VALUES ('quay_haul_outs', 'quay', 'Haul-outs', '', 0);
      SELECT fiche.make_record_table('quay_haul_outs');
      INSERT INTO fiche.field (table_id, id, label, type, settings, required, "unique", help, position)
        VALUES ('quay_haul_outs', 'ramp', 'Ramp', 'text', '{}', false, false, '', 0), ('quay_haul_outs', 'day', 'Day', 'date', '{}', false, false, '', 1);
      ALTER TABLE data.quay_haul_outs ADD COLUMN ramp text, ADD COLUMN day date;
      SELECT ledger.capture_records('quay_haul_outs')`);
    await write.raw(
      `INSERT INTO data.quay_haul_outs (ramp, day) VALUES ('East', '2030-04-03'), ('East', '2030-04-03')`,
    );
  });
});
afterAll(() => database.drop());

test('after the upgrade the table can be given places for so many a day, and the ledger holds', async () => {
  await migrate(owner(), database.ownerUrl);
  const message = 'The ramp is full that day.';
  const rule = { kind: 'atMost', id: 'full', most: 2, same: ['ramp'], from: 'day', to: null, message } as const;
  await asActor(owner(), actor, (write) =>
    enforceConstraint(write, 'quay_haul_outs', { ...rule, same: [...rule.same] }),
  );
  const haul = (day: string) =>
    asActor(owner(), actor, (write) =>
      write.raw(`INSERT INTO data.quay_haul_outs (ramp, day) VALUES ('East', ?)`, [day]),
    );
  await expect(haul('2030-04-03')).rejects.toMatchObject({ code: 'FI002' });
  await haul('2030-04-04');
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});
