import { parentPort } from 'node:worker_threads';

/** What a thread answers: parts of its result and an end, or what is wrong, in words for a person. */
export type ThreadAnswer<Part> =
  | { readonly kind: 'part'; readonly part: Part }
  | { readonly kind: 'end' }
  | { readonly kind: 'wrong'; readonly message: string; readonly values?: Readonly<Record<string, number>> };

/** What is wrong with a job, in English; the thread that asked says it in the language of whoever asked, its places filled. */
export class WrongJob extends Error {
  constructor(
    english: string,
    readonly values: Readonly<Record<string, number>> = {},
  ) {
    super(english);
  }
}

/**
 * Does the jobs of the thread that asks, one after another: called once, by the module that a thread runs. `work` passes on each part
 * of the result, and throws `WrongJob` for what a person has to know. Any other error ends the thread.
 */
export function answerJobs<Job, Part>(work: (job: Job, pass: (part: Part) => void) => Promise<void>): void {
  const answer = (one: ThreadAnswer<Part>): void => parentPort?.postMessage(one);
  parentPort?.on('message', (job: Job) => {
    work(job, (part) => answer({ kind: 'part', part })).then(
      () => answer({ kind: 'end' }),
      (error: unknown) => {
        if (!(error instanceof WrongJob)) throw error;
        answer({ kind: 'wrong', message: error.message, values: error.values });
      },
    );
  });
}
