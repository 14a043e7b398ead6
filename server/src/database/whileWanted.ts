import type { ServerResponse } from 'node:http';
import { type Database, statementLimit, type Transaction } from './pool.ts';
import { isToPooler } from './pooler.ts';

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
      const processID = await answeringProcess(database, transaction);
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

/** The process that answers a transaction. Behind a pooler it is asked for, and told how long a statement may take. */
async function answeringProcess(database: Database, transaction: Transaction): Promise<number> {
  const connection = (await transaction.client.acquireConnection()) as { processID: number };
  if (!isToPooler(connection)) return connection.processID;
  const { rows } = await transaction.raw<{ rows: { pid: number }[] }>(
    "SELECT pg_backend_pid() AS pid, set_config('statement_timeout', ?, true)",
    [String(statementLimit(database))],
  );
  return rows[0]?.pid ?? 0;
}
