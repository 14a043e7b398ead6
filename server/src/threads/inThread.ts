import { createRequire } from 'node:module';
import { pathToFileURL } from 'node:url';
import { Worker } from 'node:worker_threads';
import { say } from '@fiche/core/languages';
import { Refusal } from '../http/index.ts';
import type { ThreadAnswer } from '../jobs/index.ts';

/** Work that would hold up the thread which answers requests. */
interface ThreadWork {
  /** The module that the thread runs: it calls `answerJobs`. */
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
/** A thread that is done waits so long for another job of its kind: loading its program takes longer than most jobs. */
const IDLE_MS = 60_000;
/** After a job that took longer it ends: it may have taken much memory. */
const LIGHT_MS = 10_000;

/** What the thread runs first: a thread does not inherit the loader that reads TypeScript here. */
const LOADER = pathToFileURL(
  createRequire(import.meta.url)
    .resolve('tsx/esm/api')
    .replace(/\.cjs$/, '.mjs'),
).href;
const start = (href: string): string =>
  `import(${JSON.stringify(LOADER)}).then(({ tsImport }) => tsImport(${JSON.stringify(href)}, ${JSON.stringify(import.meta.url)}))`;

let running = 0;
const waiting: (() => void)[] = [];

interface IdleThread {
  readonly worker: Worker;
  readonly timer: NodeJS.Timeout;
}
/** Threads that wait for another job, by their module: one of each. */
const idle = new Map<string, IdleThread>();

/** Removes what listens to a thread; listeners that Node itself has there stay. */
function forgetListeners(worker: Worker): void {
  for (const event of ['message', 'error', 'exit']) worker.removeAllListeners(event);
}

/** A thread that runs a module: one that waits for a job, or a new one. */
function threadFor({ href }: URL): Worker {
  const kept = idle.get(href);
  if (!kept) return new Worker(start(href), { eval: true, resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB } });
  idle.delete(href);
  clearTimeout(kept.timer);
  forgetListeners(kept.worker);
  kept.worker.ref();
  return kept.worker;
}

/** Keeps a thread whose job is done for the next one; it keeps no process alive. */
function keepIdle({ href }: URL, worker: Worker): void {
  forgetListeners(worker);
  const end = (): void => {
    if (idle.get(href)?.worker === worker) idle.delete(href);
    void worker.terminate();
  };
  worker.on('error', end);
  worker.on('exit', end);
  worker.unref();
  idle.set(href, { worker, timer: setTimeout(end, IDLE_MS).unref() });
}

/** The parts that a thread of its own answers with, as they come. Throws 422 with what is wrong. */
export async function* inThread<Part>({ module, job, tooMuch }: ThreadWork): AsyncGenerator<Part> {
  while (running >= THREADS) await new Promise<void>((resolve) => waiting.push(resolve));
  running++;
  const worker = threadFor(module);
  const arrived: ThreadAnswer<Part>[] = [];
  let wake = (): void => undefined;
  let failed: Refusal | undefined;
  let done = false;
  const began = Date.now();
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
  worker.postMessage(job);
  try {
    for (;;) {
      const next = arrived.shift();
      done = next?.kind === 'wrong' || next?.kind === 'end';
      if (next?.kind === 'wrong') throw new Refusal(422, say(next.message, next.values));
      if (next?.kind === 'end') return;
      if (next) yield next.part;
      else if (failed) throw failed;
      else await new Promise<void>((resolve) => (wake = resolve));
    }
  } finally {
    clearTimeout(late);
    // One that nobody listens to any more, or that has taken too much, may be at work still.
    if (done && Date.now() - began < LIGHT_MS && !idle.has(module.href)) keepIdle(module, worker);
    else await worker.terminate();
    running--;
    waiting.shift()?.();
  }
}
