import type { ServerResponse } from 'node:http';
import type { Database, Transaction } from './connection.ts';

/** The caller is gone: there is nobody to answer, and nothing has failed. */
export class NobodyWaits extends Error {}

/**
 * Asks the database while somebody waits for the answer: when `reply` is closed before, the statement that runs is
 * cancelled there, over the connection of `canceller`. Only reads.
 */
export function whileWanted<T>(
  database: Database,
  canceller: Database,
  reply: ServerResponse,
  work: (transaction: Transaction) => Promise<T>,
): Promise<T> {
  return database.transaction(
    async (transaction) => {
      const { processID } = (await transaction.client.acquireConnection()) as { processID: number };
      let cancelling: Promise<unknown> | undefined;
      const cancel = (): void => {
        if (!reply.writableFinished)
          cancelling = Promise.resolve(canceller.raw('SELECT pg_cancel_backend(?)', [processID])).catch(
            () => undefined,
          );
      };
      reply.once('close', cancel);
      try {
        if (reply.closed) throw new NobodyWaits('Nobody waits for this answer any more');
        return await work(transaction);
      } catch (error) {
        throw cancelling ? new NobodyWaits('Nobody waited for this answer any more') : error;
      } finally {
        reply.off('close', cancel);
        // The connection is not given to anybody else before: it would be theirs that is cancelled.
        await cancelling;
      }
    },
    { readOnly: true },
  );
}
