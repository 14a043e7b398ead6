import type { Database, Transaction } from '../database/index.ts';
import { hashPassword } from './password.ts';

/** The hash of an open account’s password; undefined where none was set yet. As the owner: the application cannot read it. */
export async function findPasswordHash(owner: Database, login: string): Promise<string | undefined> {
  const row = await owner('fiche.account').where({ login }).whereNull('closed_at').first('password_hash');
  return row?.password_hash ?? undefined;
}

interface AccountRow {
  readonly login: string;
  readonly displayName: string;
  readonly role: string;
  readonly closed: boolean;
}

export async function accountsOf(app: Database, cabinet: string): Promise<AccountRow[]> {
  const { rows } = await app.raw<{ rows: AccountRow[] }>(
    `SELECT a.login, a.display_name AS "displayName", r.label AS role, a.closed_at IS NOT NULL AS closed FROM fiche.membership m
     JOIN fiche.account a ON a.login = m.login JOIN fiche.role r ON r.cabinet = m.cabinet AND r.id = m.role WHERE m.cabinet = ? ORDER BY a.login`,
    [cabinet],
  );
  return rows;
}

/** Adds an account; without a password, nobody can sign in with it before a link has set one. As the owner. */
export async function addAccount(
  owner: Transaction,
  login: string,
  displayName: string,
  password: string | null,
  email = '',
): Promise<void> {
  await owner('fiche.account').insert({
    login,
    display_name: displayName,
    email: email === '' ? null : email,
    password_hash: password === null ? null : await hashPassword(password),
  });
}

export const addMembership = (owner: Transaction, login: string, cabinet: string, role: string): Promise<unknown> =>
  owner('fiche.membership').insert({ login, cabinet, role });
