import { randomBytes } from 'node:crypto';
import type { PasswordLink } from '@fiche/core/api';
import { formatMoment } from '@fiche/core/fields';
import { say, sayLater } from '@fiche/core/languages';
import { invitationMail, resetMail } from '@fiche/core/messages';
import { tokenHash } from '../access/index.ts';
import { asActor, type Database, type Transaction } from '../database/index.ts';
import { Refusal, unacceptable } from '../http/index.ts';
import { putInOutbox, withdrawLinks } from '../messages/index.ts';
import type { MailSettings } from '../services.ts';
import { hashPassword, passwordProblem } from './password.ts';
import { endSessions } from './sessions.ts';

/** How long a link can be used: an invitation may lie over a weekend, a reset is asked for by somebody who waits. */
const HOURS = { invitation: 7 * 24, reset: 24 } as const;

/** Who makes a link, in which cabinet, and how it is sent. */
interface Sender {
  readonly by: string;
  readonly cabinet: string;
  readonly mail: MailSettings;
}

/**
 * Makes the one link of an account that sets its password; an earlier one is worth nothing from then on. It goes through the
 * outbox to the account’s e-mail address, where it has one. As the owner.
 */
export async function makePasswordLink(
  owner: Transaction,
  login: string,
  kind: keyof typeof HOURS,
  sender: Sender,
): Promise<PasswordLink> {
  const token = randomBytes(24).toString('base64url');
  const { rows } = await owner.raw<{ rows: { expires: string }[] }>(
    `INSERT INTO fiche.password_link (login, token_hash, expires_at) VALUES (?, ?, now() + make_interval(hours => ?))
     ON CONFLICT (login) DO UPDATE SET token_hash = excluded.token_hash, expires_at = excluded.expires_at
     RETURNING expires_at AS expires`,
    [login, tokenHash(token), HOURS[kind]],
  );
  const expires = rows[0]?.expires ?? '';
  await withdrawLinks(owner, login);
  const email = await sendLink(owner, { login, token, expires }, kind, sender);
  return { token, login, expires, email, mailed: sender.mail.server !== null };
}

/** Puts a link into the outbox. Gives the address to which it goes, `''` for an account without one. */
async function sendLink(
  owner: Transaction,
  { login, token, expires }: Pick<PasswordLink, 'login' | 'token' | 'expires'>,
  kind: keyof typeof HOURS,
  { by, cabinet, mail }: Sender,
): Promise<string> {
  const { rows } = await owner.raw<{ rows: { email: string | null; displayName: string; label: string }[] }>(
    `SELECT a.email, a.display_name AS "displayName", c.label FROM fiche.account a, fiche.cabinet c WHERE a.login = ? AND c.id = ?`,
    [login, cabinet],
  );
  const [account] = rows;
  if (!account?.email) return '';
  const words = {
    displayName: account.displayName,
    login,
    by,
    cabinet: account.label,
    expires: formatMoment(expires),
  };
  await putInOutbox(owner, mail, {
    ...(kind === 'invitation' ? invitationMail(words) : resetMail(words)),
    cabinet,
    kind,
    login,
    address: account.email,
    secret: `${mail.publicUrl}/password#${token}`,
  });
  return account.email;
}

interface LinkedAccount {
  readonly login: string;
  readonly displayName: string;
  readonly invited: boolean;
}

/** The account that a link sets the password of. As the owner; throws 403 for a link that is used up, too old or made up. */
export async function accountOfLink(owner: Database | Transaction, token: string): Promise<LinkedAccount> {
  const { rows } = await owner.raw<{ rows: LinkedAccount[] }>(
    `SELECT a.login, a.display_name AS "displayName", a.password_hash IS NULL AS invited
     FROM fiche.password_link l JOIN fiche.account a ON a.login = l.login
     WHERE l.token_hash = ? AND l.expires_at > now() AND a.closed_at IS NULL FOR UPDATE OF l`,
    [tokenHash(token)],
  );
  if (rows[0]) return rows[0];
  throw new Refusal(403, say('This link is used up or too old. Ask whoever sent it for another.'));
}

/** Sets a password by a link, which is used up with it; every session of the account ends. */
export async function setPasswordByLink(owner: Database, token: string, password: string): Promise<void> {
  const { login } = await accountOfLink(owner, token);
  const actor = { name: login, through: { kind: 'tables', label: sayLater('Password link') } } as const;
  await asActor(owner, actor, async (transaction) => {
    // Two that come with one link take turns; the second finds it used up.
    await accountOfLink(transaction, token);
    const wrong = passwordProblem(password, login);
    if (wrong !== undefined) throw unacceptable([{ path: 'password', rule: 'password', message: wrong }]);
    await transaction('fiche.password_link').where({ login }).delete();
    await withdrawLinks(transaction, login);
    await changePassword(transaction, login, password);
    await endSessions(transaction, login);
  });
}

/** Writes an account’s password. As the owner. */
export async function changePassword(owner: Transaction, login: string, password: string): Promise<void> {
  await owner('fiche.account')
    .where({ login })
    .update({ password_hash: await hashPassword(password) });
}
