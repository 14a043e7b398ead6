import cluster, { type Worker } from 'node:cluster';
import { AggregatorRegistry, type Registry } from 'prom-client';

/** What a process asks of the one that watches over it, and what that answers. */
interface Asked {
  readonly wantsMetrics: number;
}
interface Answered {
  readonly metricsOf: number;
  readonly text: string;
}

const PATIENCE_MS = 5_000;
let asked = 0;

/** The metrics of all processes of this server together, or of this one where it is alone. */
export function metricsOfAllProcesses(own: Registry): Promise<string> {
  if (!cluster.isWorker) return own.metrics();
  const number = ++asked;
  return new Promise((resolve, reject) => {
    const timer = setTimeout(() => {
      process.off('message', hear);
      reject(new Error('The processes of this server did not answer'));
    }, PATIENCE_MS);
    const hear = (message: Partial<Answered>): void => {
      if (message?.metricsOf !== number) return;
      clearTimeout(timer);
      process.off('message', hear);
      resolve(message.text ?? '');
    };
    process.on('message', hear);
    process.send?.({ wantsMetrics: number } satisfies Asked);
  });
}

/** In a process that serves: gives the one that watches over it what it tells of itself. */
export const exposeToPrimary = (own: Registry): unknown => {
  if (!cluster.isWorker) return undefined;
  AggregatorRegistry.setRegistries(own);
  return new AggregatorRegistry();
};

/** In the process that watches over others: adds up their metrics when one of them is asked. */
export function aggregateWorkerMetrics(): void {
  const all = new AggregatorRegistry();
  cluster.on('message', (worker: Worker, message: Partial<Asked>) => {
    const number = message?.wantsMetrics;
    if (number === undefined) return;
    const answer = (text: string): unknown => worker.send({ metricsOf: number, text } satisfies Answered);
    // Of processes that do not answer in time nothing is told: whoever asked gives up.
    all.clusterMetrics().then(answer, () => undefined);
  });
}
