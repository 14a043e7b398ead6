import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import type { ChainedLine, HashedLine, Receipt, Seal } from '@fiche/core/history';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { copyDatabase, freshDatabase, type TestDatabase } from '../fixtures/database.ts';
import { fillForTampering, WRITER } from '../fixtures/tamperings.ts';
import { ledgerFile } from './ledgerFile.ts';
import { newestReceipt } from './receipts.ts';
import { sealLedger } from './verify.ts';

type Entry = { line?: ChainedLine; hashed?: HashedLine; seal?: Seal; format?: string };

const folder = mkdtempSync(join(tmpdir(), 'fiche-ledger-'));
let database: TestDatabase;
let entries: Entry[];
let receipt: Receipt;
beforeAll(async () => {
  database = await freshDatabase();
  await fillForTampering(database.databases);
  const { app, owner } = database.databases;
  await sealLedger(app, '0 s');
  await asActor(app, WRITER, (transaction) => transaction.raw("UPDATE data.quay_berths SET note = 'sealed last'"));
  await sealLedger(app, '0 s');
  receipt = await newestReceipt(owner);
  entries = await exported(database);
});
afterAll(async () => {
  await database.drop();
  rmSync(folder, { recursive: true });
});

/** An exported ledger, a row for each entry. */
async function exported({ databases }: TestDatabase, tables = ['quay_berths', 'quay_pontoons']): Promise<Entry[]> {
  let text = '';
  for await (const piece of ledgerFile(databases.owner, { cabinet: 'Quay', tables })) text += piece;
  return text
    .trimEnd()
    .split('\n')
    .map((row) => JSON.parse(row) as Entry);
}

/** What the program that needs no server says. */
function verified(rows: readonly unknown[], ...receipts: unknown[]): { code: number | null; said: string } {
  const file = join(folder, 'ledger.jsonl');
  writeFileSync(file, rows.map((row) => (typeof row === 'string' ? row : JSON.stringify(row))).join('\n'));
  const names = receipts.map((one, at) => {
    const name = join(folder, `receipt-${at}.json`);
    writeFileSync(name, JSON.stringify(one));
    return name;
  });
  const tool = resolve(import.meta.dirname, '../../../tools/verify.mjs');
  const done = spawnSync(process.execPath, [tool, file, ...names], { encoding: 'utf8' });
  return { code: done.status, said: done.stdout + done.stderr };
}

describe('an exported ledger', () => {
  test('fits its seals and its receipts, with and without what is not for its reader', async () => {
    expect(entries.filter((one) => one.seal).length).toBeGreaterThanOrEqual(3);
    expect(entries.some((one) => one.line) && entries.some((one) => one.hashed)).toBe(true);
    const { code, said } = verified(entries, receipt, receipt);
    expect([code, said]).toEqual([0, expect.stringContaining('No tampering found in the ledger of Quay')]);
    expect(said).toContain(`fits seal ${receipt.seal.number}`);
    // Of other tables only the hashes are told; they are needed for the seals.
    expect(JSON.stringify(entries)).not.toContain('quay_stays');
    const nothing = await exported(database, []);
    expect(nothing.some((one) => one.line)).toBe(false);
    expect(verified(nothing, receipt).code).toBe(0);
  });

  test('that was altered anywhere is found out, and the place is named', () => {
    const lines = entries.flatMap((one, at) => (one.line ? [at] : []));
    const PARTS =
      'micros account through place record version kind before after reasons salt digest previous hash'.split(
        ' ',
      ) as (keyof ChainedLine)[];
    const alter = fc.record({ at: fc.constantFrom(...lines), part: fc.constantFrom(...PARTS) }).map(({ at, part }) => {
      const line = entries[at]?.line as ChainedLine;
      const altered = { ...line, [part]: `${line[part] ?? ''}1` };
      return { what: `${part} of row ${at}`, rows: entries.with(at, { line: altered }) };
    });
    const inside = fc.integer({ min: 1, max: entries.length - 1 });
    const takeOut = inside.map((at) => ({ what: `row ${at} taken out`, rows: entries.toSpliced(at, 1) }));
    const twice = inside.map((at) => ({
      what: `row ${at} twice`,
      rows: entries.toSpliced(at, 0, entries[at] as Entry),
    }));
    const cutOff = inside.map((at) => ({ what: `cut off at ${at}`, rows: entries.slice(0, at) }));
    fc.assert(
      fc.property(fc.oneof({ weight: 4, arbitrary: alter }, takeOut, twice, cutOff), ({ what, rows }) => {
        const { code, said } = verified(rows, receipt);
        expect([what, code]).toEqual([what, 1]);
        expect(said).toMatch(/^Does not fit: .+\.\n$/);
      }),
      { numRuns: 30 },
    );
  });

  test('and one whose lines were rewritten to fit is found by a receipt', async () => {
    const other = await copyDatabase(database);
    try {
      const { app, owner } = other.databases;
      await asActor(app, WRITER, (transaction) =>
        transaction.raw("UPDATE data.quay_berths SET note = 'written later'"),
      );
      await sealLedger(app, '0 s');
      const later = await newestReceipt(owner);
      // The copy has the key of the original; its later seal is not among the seals from before.
      expect(later.publicKey).toBe(receipt.publicKey);
      expect(verified(await exported(other), receipt, later).code).toBe(0);
      const { code, said } = verified(entries, later);
      expect([code, said]).toEqual([1, expect.stringContaining('its seal is not among those of this ledger')]);
    } finally {
      await other.drop();
    }
  });

  test('what cannot be read is said in one sentence', () => {
    const [head, ...rest] = entries;
    for (const rows of [[], ['{"format"'], [{ format: 'other' }], [head, '{'], [head, { other: 1 }, ...rest]]) {
      const { code, said } = verified(rows);
      expect([code, said.trimEnd().split('\n')]).toEqual([expect.any(Number), [expect.any(String)]]);
      expect(code).toBeGreaterThan(0);
    }
  });
});

describe('a receipt', () => {
  test('that was altered, or signed by somebody else, is found out', async () => {
    const other = await freshDatabase();
    try {
      await fillForTampering(other.databases);
      const foreign = await newestReceipt(other.databases.owner);
      const wrong: [unknown, string][] = [
        [{ ...receipt, issued: '2020-01-01T00:00:00.000Z' }, 'its signature does not fit'],
        [{ ...receipt, publicKey: foreign.publicKey }, 'its signature does not fit'],
        [{ ...receipt, seal: { ...receipt.seal, lines: '1' } }, 'the seal in it was altered'],
        [{ ...receipt, seal: { ...receipt.seal, hash: 'ab'.repeat(32) } }, 'its signature does not fit'],
        [foreign, 'or the receipt is of another office'],
      ];
      for (const [one, why] of wrong) {
        const { code, said } = verified(entries, one);
        expect([code, said]).toEqual([1, expect.stringContaining(why)]);
      }
      expect(verified(entries, { format: 'x' }).code).toBe(2);
    } finally {
      await other.drop();
    }
  });
});
