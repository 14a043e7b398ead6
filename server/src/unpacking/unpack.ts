import { say } from '@fiche/core/languages';
import { inThread } from '../threads/index.ts';
import type { Job, Unpacked } from './job.ts';

const unpacked = (job: Job): AsyncGenerator<Unpacked> =>
  inThread({
    module: new URL('./worker.ts', import.meta.url),
    job,
    tooMuch: say('This file takes too long to unpack and is not read. Save only the sheet you need as CSV.'),
  });

async function* rowsIn(job: Job): AsyncGenerator<unknown> {
  for await (const part of unpacked(job)) if (part.kind === 'rows') yield* part.rows;
}

/** The rows of a sheet of a workbook, each a list of cells. `sheet` counts from 1. */
export const workbookRows = (bytes: Uint8Array, sheet: number): AsyncGenerator<unknown[]> =>
  rowsIn({ kind: 'workbook', bytes, sheet }) as AsyncGenerator<unknown[]>;

/** The records of a JSON file: a list, or the first list in an object. */
export const jsonRecords = (bytes: Uint8Array): AsyncGenerator<unknown> => rowsIn({ kind: 'json', bytes });

/** The records of a list of an XML file, each with named texts. `list` counts from 1. */
export const xmlRecords = (bytes: Uint8Array, encoding: string, list: number): AsyncGenerator<unknown> =>
  rowsIn({ kind: 'xml', bytes, encoding, list });

/** The files of an archive whose names match, a regular expression of ours. */
export async function archiveFiles(bytes: Uint8Array, names: RegExp): Promise<Readonly<Record<string, Uint8Array>>> {
  // Read to its end, so that the thread is kept for another job.
  let files = {};
  for await (const part of unpacked({ kind: 'archive', bytes, names: names.source }))
    if (part.kind === 'files') files = part.files;
  return files;
}
