import { createRequire } from 'node:module';
import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';
import { Refusal } from '../http/index.ts';
import type { Answer, Job } from './job.ts';

/** A file that takes longer, or more memory, was made to take long. */
const LONGEST_MS = 60_000;
const MEMORY_MB = 1_500;
/** Threads at once: as many files more wait. */
const THREADS = 2;

/** What the thread runs first: a thread does not inherit the loader that reads TypeScript here. */
const LOADER = pathToFileURL(
  createRequire(import.meta.url)
    .resolve('tsx/esm/api')
    .replace(/\.cjs$/, '.mjs'),
).href;
const START = `import(${JSON.stringify(LOADER)}).then(({ tsImport }) => tsImport('./worker.ts', ${JSON.stringify(import.meta.url)}))`;

let running = 0;
const waiting: (() => void)[] = [];

/** The answers of a thread of its own. Throws 422 with what is wrong with the file. */
async function* answers(job: Job): AsyncGenerator<Answer> {
  while (running >= THREADS) await new Promise<void>((resolve) => waiting.push(resolve));
  running++;
  const worker = new Worker(START, {
    eval: true,
    workerData: job,
    resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB },
  });
  const arrived: Answer[] = [];
  let wake = (): void => undefined;
  let failed: Refusal | undefined;
  const fail = (message: string): void => {
    failed ??= new Refusal(422, message);
    wake();
  };
  const tooMuch = 'This file takes too long to unpack and is not read. Save only the sheet you need as CSV.';
  const late = setTimeout(() => fail(tooMuch), LONGEST_MS);
  worker.on('message', (answer: Answer) => {
    arrived.push(answer);
    wake();
  });
  worker.on('error', () => fail(tooMuch));
  worker.on('exit', () => fail(tooMuch));
  try {
    for (;;) {
      const next = arrived.shift();
      if (next?.kind === 'wrong') throw new Refusal(422, next.message);
      if (next) yield next;
      else if (failed) throw failed;
      else await new Promise<void>((resolve) => (wake = resolve));
    }
  } finally {
    clearTimeout(late);
    await worker.terminate();
    running--;
    waiting.shift()?.();
  }
}

async function* rowsIn(job: Job): AsyncGenerator<unknown> {
  for await (const answer of answers(job)) {
    if (answer.kind === 'rows') yield* answer.rows;
    if (answer.kind === 'end') return;
  }
}

/** The rows of a sheet of a workbook, each a list of cells. `sheet` counts from 1. */
export const workbookRows = (bytes: Uint8Array, sheet: number): AsyncGenerator<unknown[]> =>
  rowsIn({ kind: 'workbook', bytes, sheet }) as AsyncGenerator<unknown[]>;

/** The records of a JSON file: a list, or the first list in an object. */
export const jsonRecords = (bytes: Uint8Array): AsyncGenerator<unknown> => rowsIn({ kind: 'json', bytes });

/** The files of an archive whose names match, a regular expression of ours. */
export async function archiveFiles(bytes: Uint8Array, names: RegExp): Promise<Readonly<Record<string, Uint8Array>>> {
  for await (const answer of answers({ kind: 'archive', bytes, names: names.source }))
    if (answer.kind === 'files') return answer.files;
  return {};
}
