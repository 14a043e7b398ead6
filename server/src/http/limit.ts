import rateLimit, { type FastifyRateLimitStore } from '@fastify/rate-limit';
import { say } from '@fiche/core/languages';
import type { FastifyInstance, FastifyRequest } from 'fastify';
import type { Database } from '../database/index.ts';
import { Refusal } from './problem.ts';

/** An address as limits count it: of IPv6 the network of 64 bits that one household or server has. */
export const addressOf = (ip: string): string =>
  ip.includes(':') && !ip.startsWith('::ffff:') ? ip.split(':').slice(0, 4).join(':') : ip;

/** How often something was tried within the present window, this time included, and the seconds that it has left. */
interface Tries {
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
  new Refusal(
    429,
    say('Too many tries. Wait {minutes} min, then try again.', { minutes: Math.max(1, Math.ceil(left / 60)) }),
    [],
    {
      retryAfter: left,
    },
  );

/** Makes limits known to a server; what they count is kept in the database, so that they hold across servers. */
export async function registerLimits(app: FastifyInstance, database: Database): Promise<void> {
  class Store implements FastifyRateLimitStore {
    incr(what: string, tell: Parameters<FastifyRateLimitStore['incr']>[1], milliseconds: number): void {
      countTry(database, what, milliseconds / 1_000).then(
        ({ count, left }) => tell(null, { current: count, ttl: left * 1_000 }),
        (failed: Error) => tell(failed, undefined),
      );
    }
    child(): FastifyRateLimitStore {
      return this;
    }
  }
  await app.register(rateLimit, { global: false, store: Store });
}

/** Counts one try of `what`. Returns the seconds to wait when there were more than `most` within this window of `seconds`. */
export async function overLimit(
  request: FastifyRequest,
  what: string,
  most: number,
  seconds: number,
): Promise<number | undefined> {
  const check = request.server.createRateLimit({
    max: most,
    timeWindow: seconds * 1_000,
    keyGenerator: () => what,
  });
  const tried = await check(request);
  return !tried.isAllowed && tried.isExceeded ? tried.ttlInSeconds : undefined;
}

/** Counts one try of `what`. Throws 429 when there were more than `most` within this window of `seconds`. */
export async function limit(request: FastifyRequest, what: string, most: number, seconds: number): Promise<void> {
  const left = await overLimit(request, what, most, seconds);
  if (left !== undefined) throw tooMany(left);
}

/** Takes back what was counted of `what`: it succeeded. */
export const resetLimit = (app: Database, what: string): Promise<unknown> =>
  app('fiche.attempt').where({ what }).delete();

/** Forgets windows that are over. Run now and then. */
export const forgetAttempts = (app: Database): Promise<unknown> =>
  app.raw("DELETE FROM fiche.attempt WHERE window_start < now() - interval '4 days'");
