import { say } from '@fiche/core/languages';
import type { Database, Transaction } from '../database/index.ts';
import { asSeenBy, type Definitions, loadDefinitions } from '../definitions/index.ts';
import { Refusal } from '../http/index.ts';
import { TOKEN } from './credential.ts';

/**
 * The definitions of a cabinet as an account, or a token by its stamp, has them now: for work that goes on after its
 * request. Throws 403 for one that is not of the cabinet any more.
 */
export async function definitionsFor(
  database: Database | Transaction,
  cabinet: string,
  account: string,
): Promise<Definitions> {
  const token = account.startsWith(TOKEN);
  const { rows } = await database.raw<{ rows: { role: string }[] }>(
    token
      ? 'SELECT role FROM fiche.token WHERE name = ? AND cabinet = ? AND revoked_at IS NULL'
      : 'SELECT role FROM fiche.membership WHERE login = ? AND cabinet = ?',
    [token ? account.slice(TOKEN.length) : account, cabinet],
  );
  if (!rows[0]) throw new Refusal(403, say('{account} is not of this cabinet any more.', { account }));
  return asSeenBy(await loadDefinitions(database), cabinet, rows[0].role, account);
}
