import type { FastifyRequest } from 'fastify';
import type { Database } from '../database/index.ts';
import { addressOf, overLimit, resetLimit, tooMany } from '../http/index.ts';

const WINDOW_SECONDS = 300;
/** Wrong tries in that time: of one account from one address, and of all accounts from one address. */
const MOST_OF_BOTH = 8;
const MOST_OF_ADDRESS = 40;
/** From so many wrong tries on an account, from wherever, each address has fewer left. */
const ACCOUNT_ATTACKED = 60;
const MOST_WHILE_ATTACKED = 2;

/**
 * Counts a try to sign in, before its password is looked at. A right password is not refused because others guess at the
 * account from elsewhere: they only leave each address fewer tries. Returns what takes the count back when it was right;
 * throws 429.
 */
export async function countSignIn(request: FastifyRequest, app: Database, login: string): Promise<() => Promise<void>> {
  const address = addressOf(request.ip);
  const [both, from, account] = [`sign-in:${login}:${address}`, `sign-in-from:${address}`, `sign-in-to:${login}`];
  const attacked = (await overLimit(request, account, ACCOUNT_ATTACKED, WINDOW_SECONDS)) !== undefined;
  const left =
    (await overLimit(request, both, attacked ? MOST_WHILE_ATTACKED : MOST_OF_BOTH, WINDOW_SECONDS)) ??
    (await overLimit(request, from, MOST_OF_ADDRESS, WINDOW_SECONDS));
  if (left !== undefined) throw tooMany(left);
  return async () => {
    await resetLimit(app, both);
    for (const one of [from, account])
      await app.raw('UPDATE fiche.attempt SET count = count - 1 WHERE what = ? AND count > 0', [one]);
  };
}
