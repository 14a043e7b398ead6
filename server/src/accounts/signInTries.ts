import type { Database } from '../database/index.ts';
import { addressOf, countTry, forgive, tooMany } from '../http/index.ts';

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
export async function countSignIn(app: Database, login: string, ip: string): Promise<() => Promise<void>> {
  const address = addressOf(ip);
  const [both, from, account] = [`sign-in:${login}:${address}`, `sign-in-from:${address}`, `sign-in-to:${login}`];
  const ofBoth = await countTry(app, both, WINDOW_SECONDS);
  const ofAddress = await countTry(app, from, WINDOW_SECONDS);
  const ofAccount = await countTry(app, account, WINDOW_SECONDS);
  const most = ofAccount.count > ACCOUNT_ATTACKED ? MOST_WHILE_ATTACKED : MOST_OF_BOTH;
  if (ofBoth.count > most) throw tooMany(ofBoth.left);
  if (ofAddress.count > MOST_OF_ADDRESS) throw tooMany(ofAddress.left);
  return async () => {
    await forgive(app, both);
    for (const one of [from, account])
      await app.raw('UPDATE fiche.attempt SET count = count - 1 WHERE what = ? AND count > 0', [one]);
  };
}
