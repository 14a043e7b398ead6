import { randomBytes } from 'node:crypto';
import Bowser from 'bowser';
import { tokenHash } from '../access/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import { announceEnd } from '../events/index.ts';

const SESSION_HOURS = 14;

/** Where somebody signs in from. */
interface Origin {
  readonly address: string;
  /** The browser’s own words, of its `User-Agent` header. */
  readonly agent: string;
}

/** Opens a session for an account; the token goes into its cookie, only its hash is kept. As the owner. */
export async function openSession(owner: Database, login: string, { address, agent }: Origin): Promise<string> {
  const token = randomBytes(32).toString('base64url');
  await owner.raw(
    `INSERT INTO fiche.session (token_hash, login, csrf, address, device, expires_at) VALUES (?, ?, ?, ?, ?, now() + make_interval(hours => ?))`,
    [tokenHash(token), login, randomBytes(18).toString('base64url'), address, deviceOf(agent), SESSION_HOURS],
  );
  await owner.raw('DELETE FROM fiche.session WHERE expires_at < now()');
  return token;
}

/**
 * The browser and the system that a `User-Agent` header names; `''` where it names neither.
 *
 * @example
 * deviceOf('Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0'); // 'Firefox on Linux'
 */
export function deviceOf(agent: string): string {
  if (agent === '') return '';
  const { browser, os } = Bowser.parse(agent.slice(0, 500));
  return [browser.name, os.name]
    .filter((name) => name !== undefined && name !== '')
    .join(' on ')
    .slice(0, 100);
}

export const closeSession = (app: Database, token: string): Promise<unknown> =>
  app.raw('SELECT fiche.close_session(?)', [tokenHash(token)]);

interface SessionRow {
  readonly id: number;
  readonly device: string;
  readonly address: string;
  readonly started: string;
  readonly seen: string;
  readonly hash: string;
}

/** Where an account is signed in, the latest first. As the owner. */
export async function sessionsOf(owner: Database, login: string): Promise<SessionRow[]> {
  const { rows } = await owner.raw<{ rows: SessionRow[] }>(
    `SELECT id, device, address, created_at AS started, seen_at AS seen, token_hash AS hash FROM fiche.session
     WHERE login = ? AND expires_at > now() ORDER BY created_at DESC, id DESC`,
    [login],
  );
  return rows;
}

/** Ends sessions of an account: all, all but one, or one; pages and streams that are open are told. Returns how many. As the owner. */
export async function endSessions(
  owner: Database | Transaction,
  login: string,
  which: { readonly butHash?: string; readonly id?: number } = {},
): Promise<number> {
  const ended = owner('fiche.session').where({ login });
  if (which.butHash !== undefined) ended.whereNot({ token_hash: which.butHash });
  if (which.id !== undefined) ended.where({ id: which.id });
  const rows: { token_hash: string }[] = await ended.delete().returning('token_hash');
  for (const { token_hash } of rows) await announceEnd(owner, token_hash);
  return rows.length;
}

/** Has every open stream of an account begin anew, under the rights that it has now. As the owner. */
export async function renewStreams(owner: Transaction, login: string): Promise<void> {
  const rows: { token_hash: string }[] = await owner('fiche.session').where({ login }).select('token_hash');
  for (const { token_hash } of rows) await announceEnd(owner, token_hash);
}
