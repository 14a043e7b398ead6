import { randomBytes } from 'node:crypto';
import type { Right } from '@fiche/core/api';
import { tokenHash } from '../access/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import { hashPassword } from './password.ts';

/** As the owner: the application's role cannot read passwords. */
export async function findPasswordHash(owner: Database, login: string): Promise<string | undefined> {
  const row = await owner('fiche.account').where({ login }).whereNull('closed_at').first('password_hash');
  return row?.password_hash;
}

const SESSION_HOURS = 14;

/** Opens a session for an account; the token goes into its cookie, only its hash is kept. As the owner. */
export async function openSession(owner: Database, login: string): Promise<string> {
  const token = randomBytes(32).toString('base64url');
  await owner.raw(
    `INSERT INTO fiche.session (token_hash, login, csrf, expires_at) VALUES (?, ?, ?, now() + make_interval(hours => ?))`,
    [tokenHash(token), login, randomBytes(18).toString('base64url'), SESSION_HOURS],
  );
  await owner.raw('DELETE FROM fiche.session WHERE expires_at < now()');
  return token;
}

export const closeSession = (app: Database, token: string): Promise<unknown> =>
  app.raw('SELECT fiche.close_session(?)', [tokenHash(token)]);

interface AccountRow {
  readonly login: string;
  readonly displayName: string;
  readonly role: string;
}

export async function accountsOf(app: Database, cabinet: string): Promise<AccountRow[]> {
  const { rows } = await app.raw<{ rows: AccountRow[] }>(
    `SELECT a.login, a.display_name AS "displayName", r.label AS role FROM fiche.membership m
     JOIN fiche.account a ON a.login = m.login JOIN fiche.role r ON r.id = m.role WHERE m.cabinet = ? ORDER BY a.login`,
    [cabinet],
  );
  return rows;
}

/** The roles that there are, by label. */
export const rolesOf = (app: Database): Promise<{ id: string; label: string }[]> =>
  app('fiche.role').select('id', 'label').orderBy('label');

/** Adds a role. As the owner. */
export const addRole = (owner: Transaction, id: string, label: string, rights: readonly Right[]): Promise<unknown> =>
  owner('fiche.role').insert({ id, label, rights: [...rights] });

/** Adds an account. As the owner. */
export async function addAccount(
  owner: Transaction,
  login: string,
  displayName: string,
  password: string,
): Promise<void> {
  await owner('fiche.account').insert({
    login,
    display_name: displayName,
    password_hash: await hashPassword(password),
  });
}

export const addMembership = (owner: Transaction, login: string, cabinet: string, role: string): Promise<unknown> =>
  owner('fiche.membership').insert({ login, cabinet, role });
