import cluster, { type Worker } from 'node:cluster';

/** A process that ends so soon after its start will not do better the next time. */
const SOON_MS = 5_000;

interface Workers {
  /** Ends all of them and waits until they have. */
  stop(): Promise<void>;
}

/**
 * Runs this program in so many processes, which share a port. Comes back when all of them listen. One that dies is
 * replaced; when the first does not get as far as listening, or one dies at once, `giveUp` is called: it has said why.
 */
export async function startWorkers(count: number, giveUp: () => void): Promise<Workers> {
  let stopping = false;
  const begin = (): Promise<void> =>
    new Promise((resolve) => {
      const worker = cluster.fork();
      const begun = performance.now();
      worker.once('listening', () => resolve());
      worker.once('exit', (code, signal) => {
        // A process that ended well was told to end.
        if (stopping || (code === 0 && !signal)) return;
        if (performance.now() - begun < SOON_MS) giveUp();
        else void begin();
      });
    });
  // The first alone: what keeps it from listening is then said once.
  await begin();
  await Promise.all(Array.from({ length: count - 1 }, begin));
  return {
    async stop() {
      stopping = true;
      const running = Object.values(cluster.workers ?? {}).filter((one): one is Worker => one !== undefined);
      await Promise.all(
        running.map(
          (one) =>
            new Promise<void>((resolve) => {
              one.once('exit', () => resolve());
              one.process.kill('SIGTERM');
            }),
        ),
      );
    },
  };
}
