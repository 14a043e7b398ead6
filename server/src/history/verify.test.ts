import { newFieldSchema } from '@fiche/core/tables';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { asSuperuser, freshDatabase, type TestDatabase } from '../fixtures/database.ts';
import { addField, createCabinet, createTable } from '../tables/index.ts';
import { sealLedger, verifyLedger } from './verify.ts';

let database: TestDatabase;
const actor = { name: 'quayclerk', through: { kind: 'form', label: 'Check-in', version: 4 } } as const;
const app = () => database.databases.app;
const write = (sql: string) => asActor(app(), actor, (transaction) => transaction.raw(sql));
const as = (at: string, sql: string) =>
  asActor(database.databases.owner, { ...actor, at }, (transaction) => transaction.raw(sql));
const verify = () => verifyLedger(app());
/** What only a superuser can do: past the triggers that refuse it. */
const tamper = (...sql: string[]) => asSuperuser(database.superUrl, "SET session_replication_role = 'replica'", ...sql);
const berth = (record: number, version: number) =>
  `place = 'data.quay_berths' AND record = '${record}' AND version = ${version}`;

beforeEach(async () => {
  database = await freshDatabase();
  await asActor(database.databases.owner, actor, async (owner) => {
    await createCabinet(owner, 'quay', 'Quay');
    await createTable(owner, 'quay', 'Berths', '');
    for (const label of ['Number', 'Note'])
      await addField(owner, 'quay_berths', newFieldSchema.parse({ label, type: 'text' }));
  });
  await as('2025-03-01T10:00:00Z', `INSERT INTO data.quay_berths (number) VALUES ('A-1'), ('A-2'), ('A-3')`);
  await as(
    '2025-09-01T10:00:00Z',
    `UPDATE data.quay_berths SET note = 'deep' || E'\\u2028"\\\\' || number WHERE number < 'A-3'`,
  );
  await write(`UPDATE data.quay_berths SET number = 'B' || substr(number, 2)`);
  await sealLedger(app(), '0 s');
  await write(`UPDATE data.quay_berths SET archived_at = now() WHERE number = 'B-3'`);
  await write(`UPDATE data.quay_berths SET note = 'shallow' WHERE number = 'B-1'`);
});
afterEach(() => database.drop());

describe('an untouched ledger', () => {
  test('fits, over months, saves of one and of many records, and definitions', async () => {
    expect(await verify()).toMatchObject({ lines: 15, records: 7, seals: 1, unsealed: 2, misfit: null });
    await sealLedger(app(), '0 s');
    const whole = await verify();
    expect(whole).toMatchObject({ seals: 2, unsealed: 0, misfit: null });
    expect((await verifyLedger(app(), whole.newestSeal ?? '')).misfit).toBeNull();
    expect((await verifyLedger(app(), 'ab'.repeat(32))).misfit?.what).toContain('noted elsewhere');
  });

  test('is sealed only when it is time, by lines or by the clock', async () => {
    await sealLedger(app(), '1 hour');
    expect(await verify()).toMatchObject({ seals: 1, unsealed: 2 });
    await write(`INSERT INTO data.quay_berths (number) SELECT 'C-' || n FROM generate_series(1, 10000) n`);
    await sealLedger(app(), '1 hour');
    expect(await verify()).toMatchObject({ seals: 2, unsealed: 0, misfit: null });
  });

  test('fits after an erasure, whose line says what was erased without its content', async () => {
    await asActor(
      database.databases.owner,
      { name: 'harbourmaster', through: { kind: 'table', label: 'Berths', reason: 'asked for by its owner' } },
      (owner) => owner.raw(`DELETE FROM data.quay_berths WHERE number = 'B-1'`),
    );
    const { rows } = await app().raw(`SELECT * FROM ledger.line WHERE kind = 'erase'`);
    expect(rows[0]).toMatchObject({
      before: { number: '', note: '' },
      after: null,
      through: { reason: 'asked for by its owner' },
    });
    expect((await verify()).misfit).toBeNull();
  });
});

describe('a superuser who goes past the triggers is found out', () => {
  test.each([
    [
      'alters a line',
      [`UPDATE ledger.line SET after = '{"number":"Z-9"}' WHERE ${berth(2, 3)}`],
      /not what was written/,
    ],
    [
      'alters who wrote it',
      [`UPDATE ledger.line SET account = 'auditor' WHERE ${berth(1, 1)}`],
      /not what was written/,
    ],
    [
      'moves it in time',
      [`UPDATE ledger.line SET at = at + interval '1 second' WHERE ${berth(3, 1)}`],
      /not what was written/,
    ],
    ['deletes a line', [`DELETE FROM ledger.line WHERE ${berth(1, 2)}`], /does not follow the line before it/],
    ['deletes the first line', [`DELETE FROM ledger.line WHERE ${berth(2, 1)}`], /not there any more/],
    [
      'deletes the newest line',
      [`DELETE FROM ledger.line WHERE ${berth(1, 4)}`],
      /version 4, and its newest line is version 3/,
    ],
    [
      'deletes all lines of a record',
      [`DELETE FROM ledger.line WHERE place = 'data.quay_berths' AND record = '2'`],
      /lines, and \d+ are there/,
    ],
    [
      'swaps two lines of a record',
      [
        `WITH two AS (SELECT * FROM ledger.line WHERE ${berth(1, 3)} OR ${berth(1, 4)}) UPDATE ledger.line l SET after = o.after, before = o.before, hash = o.hash, previous = o.previous
         FROM two o WHERE l.place = o.place AND l.record = o.record AND l.version + o.version = 7 AND l.version >= 3`,
      ],
      /not what was written|does not follow/,
    ],
    [
      'swaps the places of two lines',
      [
        `CREATE TEMP TABLE two AS SELECT * FROM ledger.line WHERE ${berth(1, 3)} OR ${berth(2, 3)}`,
        `DELETE FROM ledger.line USING two WHERE line.id = two.id`,
        `INSERT INTO ledger.line (id, at, account, through, transaction, place, record, version, kind, before, after, previous, hash) OVERRIDING SYSTEM VALUE
         SELECT (SELECT sum(id) FROM two) - id, at, account, through, transaction, place, record, version, kind, before, after, previous, hash FROM two`,
      ],
      /does not follow|not the ones that were sealed/,
    ],
    [
      'alters a line and makes its hash fit',
      [
        `UPDATE ledger.line l SET account = 'auditor', hash = ledger.hash_of(ledger.head_of(at, 'auditor', through::text, transaction, place), previous, record, version, kind, before::text, after::text) WHERE ${berth(3, 2)}`,
      ],
      /does not follow the line before it/,
    ],
    [
      'puts in a line of his own',
      [
        `INSERT INTO ledger.line (at, account, transaction, place, record, version, kind, hash) SELECT now(), 'auditor', 1, 'data.quay_berths', '99', 1, 'add', ledger.hash_of(ledger.head_of(now(), 'auditor', NULL, 1, 'data.quay_berths'), NULL, '99', 1, 'add', NULL, NULL)`,
      ],
      /lines, and \d+ are there/,
    ],
    ['rewrites a seal', [`UPDATE ledger.seal SET lines = lines - 1`], /was rewritten/],
    ['removes the seal', ['DELETE FROM ledger.seal'], undefined],
    [
      'changes a record behind the ledger’s back',
      [`UPDATE data.quay_berths SET number = 'X-1', version = 9 WHERE id = 1`],
      /at version 9/,
    ],
    ['removes a record behind its back', ['DELETE FROM data.quay_berths WHERE id = 2'], /gone, and no line says/],
  ])('who %s', async (_what, sql, words) => {
    const { newestSeal } = await verify();
    await tamper(...sql);
    const found = words === undefined ? await verifyLedger(app(), newestSeal ?? '') : await verify();
    expect(found.misfit?.what).toMatch(words ?? /noted elsewhere/);
  });

  test('also when the whole chain of a sealed record is rewritten to fit', async () => {
    await tamper(
      `UPDATE ledger.line SET account = 'auditor' WHERE ${berth(3, 1)}`,
      `DO $$ DECLARE one record; last bytea; BEGIN
        FOR one IN SELECT * FROM ledger.line WHERE place = 'data.quay_berths' AND record = '3' ORDER BY id LOOP
          UPDATE ledger.line l SET previous = last, hash = ledger.hash_of(ledger.head_of(l.at, l.account, l.through::text, l.transaction, l.place), last, l.record, l.version, l.kind, l.before::text, l.after::text)
          WHERE l.id = one.id RETURNING hash INTO last;
        END LOOP; END $$`,
    );
    const found = await verify();
    expect(found.misfit).toMatchObject({ what: expect.stringContaining('not the ones that were sealed'), seal: '1' });
  });
});

test('the application cannot write a seal, and nobody can alter one by ordinary statements', async () => {
  await expect(write('DELETE FROM ledger.seal')).rejects.toThrow('permission denied');
  await expect(write(`INSERT INTO ledger.seal SELECT * FROM ledger.seal`)).rejects.toThrow('permission denied');
  await expect(asSuperuser(database.superUrl, 'UPDATE ledger.seal SET lines = 0')).rejects.toThrow('cannot be altered');
  await expect(asSuperuser(database.superUrl, 'TRUNCATE data.quay_berths')).rejects.toThrow('truncate is refused');
});

test('a column that capture does not know is refused rather than left out', async () => {
  await asSuperuser(database.superUrl, 'ALTER TABLE data.quay_berths ADD COLUMN secret text');
  await expect(write(`INSERT INTO data.quay_berths (number) VALUES ('D-1')`)).rejects.toThrow('ledger.capture_records');
});
