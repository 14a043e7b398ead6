import type { Database } from '../database/index.ts';
import { Refusal } from './problem.ts';

/** An address as limits count it: of IPv6 the network of 64 bits that one household or server has. */
export const addressOf = (ip: string): string =>
  ip.includes(':') && !ip.startsWith('::ffff:') ? ip.split(':').slice(0, 4).join(':') : ip;

/** How often something was tried within the present window, this time included, and the seconds that it has left. */
export interface Tries {
  readonly count: number;
  readonly left: number;
}

/** Counts one try of `what`, or `by` of them, within a window of `seconds`. Kept in the database, so that limits hold across servers. */
export async function countTry(app: Database, what: string, seconds: number, by = 1): Promise<Tries> {
  const { rows } = await app.raw<{ rows: { count: number; left: number }[] }>(
    `INSERT INTO fiche.attempt AS a (what, window_start, count)
     VALUES (?, to_timestamp(floor(extract(epoch FROM now()) / ?) * ?), ?)
     ON CONFLICT (what, window_start) DO UPDATE SET count = a.count + excluded.count
     RETURNING count, ceil(extract(epoch FROM window_start) + ? - extract(epoch FROM now()))::integer AS left`,
    [what, seconds, seconds, by, seconds],
  );
  return rows[0] ?? { count: 0, left: 0 };
}

export const tooMany = (left: number): Refusal =>
  new Refusal(429, `Too many tries. Wait ${Math.max(1, Math.ceil(left / 60))} min, then try again.`, [], {
    retryAfter: left,
  });

/** Counts one try of `what` and refuses it when there were more than `most` within this window of `seconds`. */
export async function limit(app: Database, what: string, most: number, seconds: number): Promise<void> {
  const { count, left } = await countTry(app, what, seconds);
  if (count > most) throw tooMany(left);
}

/** Takes back what was counted of `what`: it succeeded. */
export const forgive = (app: Database, what: string): Promise<unknown> => app('fiche.attempt').where({ what }).delete();

/** Forgets windows that are over. Run now and then. */
export const forgetAttempts = (app: Database): Promise<unknown> =>
  app.raw("DELETE FROM fiche.attempt WHERE window_start < now() - interval '4 days'");
