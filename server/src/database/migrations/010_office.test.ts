import { afterAll, beforeAll, expect, test } from 'vitest';
import { loadDefinitions } from '../../definitions/index.ts';
import { databaseBefore, type TestDatabase } from '../../fixtures/database.ts';
import { verifyLedger } from '../../history/index.ts';
import { asActor, migrate } from '../index.ts';

let database: TestDatabase;
const owner = () => database.databases.owner;
const write = (sql: string, at?: string) =>
  asActor(
    owner(),
    { name: 'quayclerk', through: { kind: 'form', label: 'Check-in', version: 1 }, ...(at ? { at } : {}) },
    (transaction) => transaction.raw(sql),
  );

/** An office as the version before left it: a table with a link and a sequence number, and a record of last year. */
beforeAll(async () => {
  database = await databaseBefore('010');
  await write(`INSERT INTO fiche.cabinet (id, label) VALUES ('quay', 'Quay')`);
  await write(`INSERT INTO fiche."table" (id, cabinet, label, position) VALUES ('quay_stays', 'quay', 'Stays', 0)`);
  await write(`SELECT fiche.make_record_table('quay_stays')`);
  await write(
    `INSERT INTO fiche.field (table_id, id, label, type, settings, required, "unique", help, position) VALUES ('quay_stays', 'number', 'Number', 'sequence', '{"prefix":"STAY-","withYear":true,"width":5,"first":1}', false, false, '', 0)`,
  );
  await write(
    `ALTER TABLE data.quay_stays ADD COLUMN number text DEFAULT fiche.next_number('quay_stays_number', 'STAY-', true, 5, 1)`,
  );
  await write(`SELECT ledger.capture_records('quay_stays')`);
  await write(`INSERT INTO data.quay_stays (archived_at) VALUES (NULL)`, '2025-12-31T22:00:00Z');
});
afterAll(() => database.drop());

test('after the upgrade an office without a choice goes on as before, and numbers go on where they were', async () => {
  await migrate(owner(), database.ownerUrl);
  const before = await loadDefinitions(owner());
  expect(before.officeIsSet).toBe(false);
  expect(before.office.timeZone).toBe(new Intl.DateTimeFormat().resolvedOptions().timeZone);
  expect(before.tables.get('quay_stays')?.fields[0]).toMatchObject({ id: 'number', narrowing: null });

  await write(`INSERT INTO data.quay_stays (archived_at) VALUES (NULL)`, '2025-12-31T23:00:00Z');
  await write(`INSERT INTO fiche.office (time_zone, locale, currency) VALUES ('Europe/Tallinn', 'et-EE', 'EUR')`);
  await write(`INSERT INTO data.quay_stays (archived_at) VALUES (NULL)`, '2025-12-31T23:30:00Z');
  const { rows } = await owner().raw('SELECT number FROM data.quay_stays ORDER BY id');
  expect(rows.map((row: { number: string }) => row.number)).toEqual([
    'STAY-2025-00001',
    'STAY-2025-00002',
    'STAY-2026-00001',
  ]);
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});
