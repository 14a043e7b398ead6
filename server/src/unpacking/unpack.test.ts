import { deflateRawSync } from 'node:zlib';
import { strToU8, zipSync } from 'fflate';
import { expect, test } from 'vitest';
import { archiveFiles, jsonRecords, workbookRows } from './index.ts';

const all = async (rows: AsyncIterable<unknown>): Promise<unknown[]> => {
  const found: unknown[] = [];
  for await (const row of rows) found.push(row);
  return found;
};

/** An archive with one file, packed already; it tells of no sizes (APPNOTE.TXT 4.3.7). */
function archiveOf(name: string, packed: Uint8Array): Uint8Array {
  const head = new DataView(new ArrayBuffer(30));
  head.setUint32(0, 0x04034b50, true);
  head.setUint16(4, 20, true);
  // Deflated.
  head.setUint16(8, 8, true);
  head.setUint32(18, packed.length, true);
  head.setUint16(26, name.length, true);
  return new Uint8Array(Buffer.concat([new Uint8Array(head.buffer), strToU8(name), packed]));
}

test('records of JSON, also inside an object, and files of an archive by their names', async () => {
  expect(await all(jsonRecords(strToU8('["x", {"a": "2"}]')))).toEqual(['x', { a: '2' }]);
  expect(await all(jsonRecords(strToU8('{"total": 1, "tags": ["x"], "items": [{"a": "3"}]}')))).toEqual([{ a: '3' }]);
  const archive = zipSync({ 'data/a.csv': strToU8('x'), 'other.txt': strToU8('y') });
  expect(Object.keys(await archiveFiles(archive, /^data\//))).toEqual(['data/a.csv']);
});

test('a file made to unpack to an enormous size is refused, and holds up nothing meanwhile', async () => {
  // It tells of no size at all: what comes out of it is counted.
  const bomb = archiveOf('xl/worksheets/sheet1.xml', deflateRawSync(new Uint8Array(420 * 1024 * 1024), { level: 1 }));
  let turns = 0;
  const beat = setInterval(() => {
    turns++;
  }, 5);
  await expect(all(workbookRows(bomb, 1))).rejects.toThrow('enormous size');
  clearInterval(beat);
  // The thread that answers requests went on: one that unpacks by itself would not have come to itself once.
  expect(turns).toBeGreaterThan(10);
});

test('a file that tells of an enormous size is refused before it is unpacked', async () => {
  const told = zipSync({ 'xl/worksheets/sheet1.xml': new Uint8Array(3) });
  new DataView(told.buffer, told.byteOffset).setUint32(22, 500 * 1024 * 1024, true);
  await expect(all(workbookRows(told, 1))).rejects.toThrow('enormous size');
});

test('an archive of too many files is refused', async () => {
  const many = Object.fromEntries(Array.from({ length: 5_001 }, (_, n) => [`data/${n}.csv`, new Uint8Array(0)]));
  await expect(archiveFiles(zipSync(many), /./)).rejects.toThrow('more than 5000 files');
});
