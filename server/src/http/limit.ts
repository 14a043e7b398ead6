import type { Database } from '../database/index.ts';
import { Refusal } from './problem.ts';

/**
 * Counts one try of `what` and refuses when there were more than `most` within this window of `seconds`. Kept in the
 * database, so that the limit holds across servers.
 */
export async function limit(app: Database, what: string, most: number, seconds: number): Promise<void> {
  const { rows } = await app.raw<{ rows: { count: number; left: number }[] }>(
    `INSERT INTO fiche.attempt AS a (what, window_start, count)
     VALUES (?, to_timestamp(floor(extract(epoch FROM now()) / ?) * ?), 1)
     ON CONFLICT (what, window_start) DO UPDATE SET count = a.count + 1
     RETURNING count, ceil(extract(epoch FROM window_start) + ? - extract(epoch FROM now()))::integer AS left`,
    [what, seconds, seconds, seconds],
  );
  const tries = rows[0];
  if (tries && tries.count > most)
    throw new Refusal(429, `Too many tries. Wait ${Math.max(1, Math.ceil(tries.left / 60))} min, then try again.`, [], {
      retryAfter: tries.left,
    });
}

/** Takes back what was counted of `what`: it succeeded. */
export const forgive = (app: Database, what: string): Promise<unknown> => app('fiche.attempt').where({ what }).delete();

/** Forgets windows that are over. Run now and then. */
export const forgetAttempts = (app: Database): Promise<unknown> =>
  app.raw("DELETE FROM fiche.attempt WHERE window_start < now() - interval '1 day'");
