import { parentPort, workerData } from 'node:worker_threads';
import { BrokenJson, jsonRecords, readJson, UnreadableXml, xmlLists } from '@fiche/core/imports';
import { Unzip, UnzipInflate } from 'fflate';
import readSheet from 'read-excel-file/node';
import type { ThreadAnswer } from '../threads/index.ts';
import type { Job, Unpacked } from './job.ts';

// The thread that unpacks: what comes out of an archive can be a thousand times what went in, and must not hold up the
// thread that answers requests.

/** An archive has at most so many files in it, and unpacks to at most so many bytes. */
const ENTRIES_MOST = 5_000;
const UNPACKED_MOST = 400 * 1024 * 1024;
const ENORMOUS = 'This file unpacks to an enormous size and is not read.';
const ROWS_AT_ONCE = 2_000;

/** What is wrong with a file, in words for the person who sent it. */
class Wrong extends Error {}

const send = (answer: ThreadAnswer<Unpacked>): void => parentPort?.postMessage(answer);
const part = (one: Unpacked): void => send({ kind: 'part', part: one });

/** Unpacks an archive step by step and counts: the sizes that it tells of itself can lie. One that tells of too much is not unpacked. */
function unpack(bytes: Uint8Array, wanted: (name: string) => boolean): Record<string, Uint8Array> {
  const kept: Record<string, Uint8Array[]> = {};
  let [size, entries] = [0, 0];
  const unzip = new Unzip((file) => {
    if (++entries > ENTRIES_MOST)
      throw new Wrong(`This file has more than ${ENTRIES_MOST} files in it and is not read.`);
    if (size + (file.originalSize ?? 0) > UNPACKED_MOST) throw new Wrong(ENORMOUS);
    const chunks: Uint8Array[] | undefined = wanted(file.name) ? [] : undefined;
    if (chunks) kept[file.name] = chunks;
    file.ondata = (error, chunk) => {
      // The archive's own error may only be the one thrown here a moment before.
      size += error ? 0 : chunk.length;
      if (size > UNPACKED_MOST) throw new Wrong(ENORMOUS);
      if (error) throw new Wrong('This file is damaged or cut off. Save it again, and send it again.');
      chunks?.push(chunk);
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  const step = 64 * 1024;
  for (let at = 0; at < bytes.length; at += step) unzip.push(bytes.subarray(at, at + step), at + step >= bytes.length);
  return Object.fromEntries(
    Object.entries(kept).map(([name, chunks]) => [name, new Uint8Array(Buffer.concat(chunks))]),
  );
}

async function sheetRows(bytes: Uint8Array, number: number): Promise<unknown[][]> {
  unpack(bytes, () => false);
  let sheets: { data: unknown[][] }[];
  try {
    sheets = (await readSheet(Buffer.from(bytes))) as unknown as { data: unknown[][] }[];
  } catch {
    throw new Wrong('This workbook cannot be read. Open it, save it as .xlsx again, and send it again.');
  }
  const found = sheets[number - 1];
  if (!found)
    throw new Wrong(
      `This workbook has ${sheets.length} ${sheets.length === 1 ? 'sheet' : 'sheets'}. Choose one of them.`,
    );
  return found.data;
}

function listIn(bytes: Uint8Array): readonly unknown[] {
  let records: readonly unknown[] | undefined;
  try {
    records = jsonRecords(readJson(new TextDecoder().decode(bytes)));
  } catch (error) {
    throw error instanceof BrokenJson ? new Wrong(error.message) : error;
  }
  if (records) return records;
  throw new Wrong('This JSON has no list of records. It must be a list, such as [{"Name": "A-1"}].');
}

function xmlListIn({ bytes, encoding, list }: Extract<Job, { kind: 'xml' }>): readonly unknown[] {
  try {
    const lists = xmlLists(new TextDecoder(encoding).decode(bytes));
    const found = lists[list - 1];
    if (found) return found.records;
    throw new Wrong(
      `This XML has ${lists.length} ${lists.length === 1 ? 'list' : 'lists'} of records. Choose one of them.`,
    );
  } catch (error) {
    throw error instanceof UnreadableXml ? new Wrong(error.message) : error;
  }
}

async function work(job: Job): Promise<void> {
  if (job.kind === 'archive') {
    const pattern = new RegExp(job.names);
    part({ kind: 'files', files: unpack(job.bytes, (name) => pattern.test(name)) });
    return send({ kind: 'end' });
  }
  const rows =
    job.kind === 'workbook'
      ? await sheetRows(job.bytes, job.sheet)
      : job.kind === 'xml'
        ? xmlListIn(job)
        : listIn(job.bytes);
  for (let at = 0; at < rows.length; at += ROWS_AT_ONCE)
    part({ kind: 'rows', rows: rows.slice(at, at + ROWS_AT_ONCE) });
  send({ kind: 'end' });
}

try {
  await work(workerData as Job);
} catch (error) {
  send({
    kind: 'wrong',
    message:
      error instanceof Wrong ? error.message : 'This file is damaged or cut off. Save it again, and send it again.',
  });
}
