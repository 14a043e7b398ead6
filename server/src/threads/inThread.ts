import { createRequire } from 'node:module';
import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';
import { say } from '@fiche/core/languages';
import { Refusal } from '../http/index.ts';

/** What a thread answers: parts of its result and an end, or what is wrong, in words for a person. */
export type ThreadAnswer<Part> =
  | { readonly kind: 'part'; readonly part: Part }
  | { readonly kind: 'end' }
  | { readonly kind: 'wrong'; readonly message: string };

/** Work that would hold up the thread which answers requests. */
interface ThreadWork {
  /** The module that the thread runs; it finds its job in `workerData` and answers by `ThreadAnswer`. */
  readonly module: URL;
  readonly job: unknown;
  /** What is said where it takes more time or memory than it may. */
  readonly tooMuch: string;
}

/** Work that takes longer, or more memory, was made to take long. */
const LONGEST_MS = 60_000;
const MEMORY_MB = 1_500;
/** Threads at once: what comes then waits. */
const THREADS = 2;

/** What the thread runs first: a thread does not inherit the loader that reads TypeScript here. */
const LOADER = pathToFileURL(
  createRequire(import.meta.url)
    .resolve('tsx/esm/api')
    .replace(/\.cjs$/, '.mjs'),
).href;
const start = (module: URL): string =>
  `import(${JSON.stringify(LOADER)}).then(({ tsImport }) => tsImport(${JSON.stringify(module.href)}, ${JSON.stringify(import.meta.url)}))`;

let running = 0;
const waiting: (() => void)[] = [];

/** The parts that a thread of its own answers with, as they come. Throws 422 with what is wrong. */
export async function* inThread<Part>({ module, job, tooMuch }: ThreadWork): AsyncGenerator<Part> {
  while (running >= THREADS) await new Promise<void>((resolve) => waiting.push(resolve));
  running++;
  const worker = new Worker(start(module), {
    eval: true,
    workerData: job,
    resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB },
  });
  const arrived: ThreadAnswer<Part>[] = [];
  let wake = (): void => undefined;
  let failed: Refusal | undefined;
  const fail = (): void => {
    failed ??= new Refusal(422, tooMuch);
    wake();
  };
  const late = setTimeout(fail, LONGEST_MS);
  worker.on('message', (answer: ThreadAnswer<Part>) => {
    arrived.push(answer);
    wake();
  });
  worker.on('error', fail);
  worker.on('exit', fail);
  try {
    for (;;) {
      const next = arrived.shift();
      if (next?.kind === 'wrong') throw new Refusal(422, say(next.message));
      if (next?.kind === 'end') return;
      if (next) yield next.part;
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
