import { BrokenJson, jsonRecords, readJson, UnreadableXml, xmlLists } from '@fiche/core/imports';
import { sayLater } from '@fiche/core/languages';
import { Unzip, UnzipInflate } from 'fflate';
import readSheet from 'read-excel-file/node';
import { answerJobs, WrongJob } from '../jobs/index.ts';
import type { Job, Unpacked } from './job.ts';

// The thread that unpacks: what comes out of an archive can be a thousand times what went in, and must not hold up the
// thread that answers requests.

/** An archive has at most so many files in it, and unpacks to at most so many bytes. */
const ENTRIES_MOST = 5_000;
const UNPACKED_MOST = 400 * 1024 * 1024;
const ENORMOUS = sayLater('This file unpacks to an enormous size and is not read.');
const ROWS_AT_ONCE = 2_000;

/** Unpacks an archive step by step and counts: the sizes that it tells of itself can lie. One that tells of too much is not unpacked. */
function unpack(bytes: Uint8Array, wanted: (name: string) => boolean): Record<string, Uint8Array> {
  const kept: Record<string, Uint8Array[]> = {};
  let [size, entries] = [0, 0];
  const unzip = new Unzip((file) => {
    if (++entries > ENTRIES_MOST)
      throw new WrongJob(sayLater('This file has more than {most} files in it and is not read.'), {
        most: ENTRIES_MOST,
      });
    if (size + (file.originalSize ?? 0) > UNPACKED_MOST) throw new WrongJob(ENORMOUS);
    const chunks: Uint8Array[] | undefined = wanted(file.name) ? [] : undefined;
    if (chunks) kept[file.name] = chunks;
    file.ondata = (error, chunk) => {
      // The archive's own error may only be the one thrown here a moment before.
      size += error ? 0 : chunk.length;
      if (size > UNPACKED_MOST) throw new WrongJob(ENORMOUS);
      if (error) throw new WrongJob(sayLater('This file is damaged or cut off. Save it again, and send it again.'));
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
    throw new WrongJob(sayLater('This workbook cannot be read. Open it, save it as .xlsx again, and send it again.'));
  }
  const found = sheets[number - 1];
  if (!found)
    throw new WrongJob(
      sayLater('The sheet that was chosen is not there: this workbook has {count}. Choose one of them.'),
      {
        count: sheets.length,
      },
    );
  return found.data;
}

function listIn(bytes: Uint8Array): readonly unknown[] {
  let records: readonly unknown[] | undefined;
  try {
    records = jsonRecords(readJson(new TextDecoder().decode(bytes)));
  } catch (error) {
    throw error instanceof BrokenJson ? new WrongJob(error.message) : error;
  }
  if (records) return records;
  throw new WrongJob(sayLater('This JSON has no list of records. It must be a list, such as [{"Name": "A-1"}].'));
}

function xmlListIn({ bytes, encoding, list }: Extract<Job, { kind: 'xml' }>): readonly unknown[] {
  try {
    const lists = xmlLists(new TextDecoder(encoding).decode(bytes));
    const found = lists[list - 1];
    if (found) return found.records;
    throw new WrongJob(sayLater('The list that was chosen is not there: this XML has {count}. Choose one of them.'), {
      count: lists.length,
    });
  } catch (error) {
    throw error instanceof UnreadableXml ? new WrongJob(error.message) : error;
  }
}

/** What is in a file, passed on in parts. Throws `WrongJob` for what a person has to know. */
async function work(job: Job, pass: (part: Unpacked) => void): Promise<void> {
  if (job.kind === 'archive') {
    const pattern = new RegExp(job.names);
    return pass({ kind: 'files', files: unpack(job.bytes, (name) => pattern.test(name)) });
  }
  const rows =
    job.kind === 'workbook'
      ? await sheetRows(job.bytes, job.sheet)
      : job.kind === 'xml'
        ? xmlListIn(job)
        : listIn(job.bytes);
  for (let at = 0; at < rows.length; at += ROWS_AT_ONCE)
    pass({ kind: 'rows', rows: rows.slice(at, at + ROWS_AT_ONCE) });
}

answerJobs<Job, Unpacked>((job, pass) =>
  work(job, pass).catch((error: unknown) => {
    throw error instanceof WrongJob
      ? error
      : new WrongJob(sayLater('This file is damaged or cut off. Save it again, and send it again.'));
  }),
);
