import type { LedgerVerdict } from '@fiche/core/api';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { asSuperuser, copyDatabase, freshDatabase, type TestDatabase } from '../fixtures/database.ts';
import { fillForTampering, TAMPERINGS, WRITER } from '../fixtures/tamperings.ts';
import { eraseRecord } from '../records/index.ts';
import { CAPTURED, EXEMPT } from './captured.ts';
import { sealLedger, verifyLedger } from './verify.ts';
import { expectedStructure, structureOf } from './verifyStructure.ts';

let filled: TestDatabase;
let database: TestDatabase;
const app = () => database.databases.app;
const owner = () => database.databases.owner;
const write = (sql: string) => asActor(app(), WRITER, (transaction) => transaction.raw(sql));
const verify = (knownSeal?: string) => verifyLedger(owner(), knownSeal === undefined ? {} : { knownSeal });
/** What only a superuser can do: past the triggers that refuse it. */
const tamper = (...sql: readonly string[]) =>
  asSuperuser(database.superUrl, "SET session_replication_role = 'replica'", ...sql);

beforeAll(async () => {
  filled = await freshDatabase();
  await fillForTampering(filled.databases);
});
afterAll(() => filled.drop());
beforeEach(async () => {
  database = await copyDatabase(filled);
});
afterEach(() => database.drop());

describe('an untouched ledger', () => {
  test('fits, over months, saves of one and of many records, and definitions', async () => {
    const before = await verify();
    expect(before).toMatchObject({ seals: 1, unsealed: 2, misfits: [] });
    expect(Date.now() - Date.parse(before.unsealedSince ?? '')).toBeLessThan(600_000);
    await sealLedger(app(), '0 s');
    const whole = await verify();
    expect(whole).toMatchObject({ seals: 2, unsealed: 0, unsealedSince: null, misfits: [] });
    expect((await verify(whole.newestSeal ?? '')).misfits).toEqual([]);
    expect((await verify('ab'.repeat(32))).misfits[0]?.what).toContain('noted elsewhere');
  });

  test('fits with 25 seals and a hundred thousand lines, in flat memory', async () => {
    await write(`INSERT INTO data.quay_berths (number) SELECT 'C-' || n FROM generate_series(1, 60000) n`);
    for (let n = 0; n < 24; n++) {
      await write(`UPDATE data.quay_berths SET note = 'round ${n}' WHERE id % 30 = ${n}`);
      await sealLedger(app(), '0 s');
    }
    const told: number[] = [];
    const found = await verifyLedger(owner(), {
      progress: async (done, total) => {
        told.push(done / total);
      },
    });
    expect(found).toMatchObject({ seals: 25, unsealed: 0, misfits: [] });
    expect(found.lines).toBeGreaterThan(100_000);
    expect(told.length).toBeGreaterThan(90);
    expect(told.every((share) => share > 0 && share <= 1)).toBe(true);
  });

  test('is sealed only when it is time, by lines or by the clock', async () => {
    await sealLedger(app(), '1 hour');
    expect(await verify()).toMatchObject({ seals: 1, unsealed: 2 });
    await write(`INSERT INTO data.quay_berths (number) SELECT 'C-' || n FROM generate_series(1, 10000) n`);
    await sealLedger(app(), '1 hour');
    expect(await verify()).toMatchObject({ seals: 2, unsealed: 0, misfits: [] });
  });

  test('is told so whoever runs the verification, and it can be cancelled', async () => {
    await write(`INSERT INTO data.quay_berths (number) SELECT 'C-' || n FROM generate_series(1, 2000) n`);
    const cancel = verifyLedger(owner(), { progress: () => Promise.reject(new Error('cancelled')) });
    await expect(cancel).rejects.toThrow('cancelled');
    expect((await verify()).misfits).toEqual([]);
  });
});

describe('erasing for good', () => {
  const erase = async (id: number) => {
    const actor = {
      name: 'harbourmaster',
      through: { kind: 'table', label: 'Berths', reason: 'asked for by its owner' },
    } as const;
    await asActor(owner(), actor, async (transaction) => {
      const { tables } = await loadDefinitions(transaction);
      const { rows } = await transaction.raw('SELECT version FROM data.quay_berths WHERE id = ?', [id]);
      await eraseRecord(transaction, tables, 'quay_berths', id, rows[0].version);
    });
  };

  test('removes the values from every line and where they came from; the chain holds and says who erased, and why', async () => {
    await write('UPDATE data.quay_berths SET archived_at = now() WHERE id = 1');
    await erase(1);
    const { rows } = await app().raw(
      `SELECT * FROM ledger.line WHERE record IN ('1', 'quay_berths.1') AND place IN ('data.quay_berths', 'fiche.origin') ORDER BY id`,
    );
    expect(JSON.stringify(rows)).not.toMatch(/deep|shallow|B-1|A-1/);
    expect(rows.at(-1) ?? rows.at(-2)).toBeDefined();
    expect(rows.find((row: { kind: string }) => row.kind === 'erase')).toBeDefined();
    expect(
      rows.filter(
        (row: { place: string; kind: string }) => row.place === 'data.quay_berths' && row.kind === 'erase',
      )[0],
    ).toMatchObject({
      account: 'harbourmaster',
      before: { number: '', note: '' },
      through: { reason: 'asked for by its owner' },
    });
    await sealLedger(app(), '0 s');
    expect((await verify()).misfits).toEqual([]);
  });

  test('is the only way in which values leave a line, and nobody else’s', async () => {
    const line = `place = 'data.quay_berths' AND record = '2'`;
    const remove = `UPDATE ledger.line SET before = NULL, after = NULL, reasons = NULL, salt = NULL WHERE ${line}`;
    await expect(owner().raw(remove)).rejects.toThrow('cannot be altered');
    await expect(owner().raw(`SELECT ledger.erase_values('data.quay_berths', '2')`)).rejects.toThrow(
      'Only the values of an erased record',
    );
    await expect(app().raw(`SELECT ledger.erase_values('data.quay_berths', '2')`)).rejects.toThrow('permission denied');
    await expect(asSuperuser(database.superUrl, `SET fiche.erasing = 'data.quay_berths/2'`, remove)).rejects.toThrow(
      'cannot be altered',
    );
  });

  test('reaches the lines of an older version, whose hash covers their values, and vouches for the rest of them', async () => {
    await tamper(
      `UPDATE ledger.line SET salt = NULL, digest = NULL WHERE place = 'data.quay_berths' AND record = '3'`,
      AS_OLD_LINES,
    );
    await tamper('DELETE FROM ledger.seal');
    expect((await verify()).misfits).toEqual([]);
    await erase(3);
    expect((await verify()).misfits).toEqual([]);
    await tamper(
      `UPDATE ledger.line SET account = 'auditor' WHERE place = 'data.quay_berths' AND record = '3' AND version = 1`,
    );
    expect((await verify()).misfits[0]?.what).toContain('no line says that it was erased');
  });
});

/** Hashes as a version before digests made them. */
const AS_OLD_LINES = `DO $$ DECLARE one record; last bytea; BEGIN
  FOR one IN SELECT * FROM ledger.line WHERE place = 'data.quay_berths' AND record = '3' ORDER BY id LOOP
    UPDATE ledger.line l SET previous = last, hash = sha256(convert_to(ledger.head_of(l.at, l.account, l.through::text, l.transaction, l.place) || coalesce(encode(last, 'hex'), '') || E'\\x1f'
      || l.record || E'\\x1f' || l.version || E'\\x1f' || l.kind || E'\\x1f' || coalesce(l.before::text, '') || E'\\x1f' || coalesce(l.after::text, ''), 'UTF8'))
    WHERE l.id = one.id RETURNING hash INTO last;
  END LOOP; END $$`;

describe('a superuser who goes past the triggers is found out', () => {
  const nameIn = ({ misfits }: LedgerVerdict): string[] => misfits.map(({ place, record }) => `${place}/${record}`);

  test.each(TAMPERINGS.map((one) => [one.what, one] as const))(
    'who %s',
    async (_what, { sql, found, names, needsSeal }) => {
      const { newestSeal } = await verify();
      await tamper(...sql);
      const verdict = await verify(needsSeal ? (newestSeal ?? '') : undefined);
      expect(verdict.misfits.map((one) => `${one.place} ${one.what}`).join('\n')).toMatch(found);
      if (names !== undefined) expect(nameIn(verdict)).toContain(names);
    },
  );
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

test('the structure that verification expects is the one that the migrations make (update with vitest -u)', async () => {
  const fresh = await freshDatabase();
  try {
    const made = await fresh.databases.owner.transaction((transaction) => structureOf(transaction));
    await expect(`${JSON.stringify(made, null, 2)}\n`).toMatchFileSnapshot('../database/structure.json');
    expect(expectedStructure()).toEqual(made);
  } finally {
    await fresh.drop();
  }
});

test('every table is captured, or is named with the reason why not', async () => {
  const { rows } = await owner().raw<{ rows: { name: string; captured: boolean }[] }>(
    `SELECT c.relname AS name, count(t.oid) = 3 AS captured FROM pg_class c LEFT JOIN pg_trigger t ON t.tgrelid = c.oid AND t.tgname LIKE 'capture_%'
     WHERE c.relnamespace = 'fiche'::regnamespace AND c.relkind = 'r' GROUP BY 1`,
  );
  expect(
    rows
      .filter((row) => row.captured)
      .map((row) => row.name)
      .sort(),
  ).toEqual(Object.keys(CAPTURED).sort());
  expect(
    rows
      .filter((row) => !row.captured)
      .map((row) => row.name)
      .sort(),
  ).toEqual(Object.keys(EXEMPT).sort());
});
