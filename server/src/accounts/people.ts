import type { Database, Transaction } from '../database/index.ts';

/** The open accounts of a cabinet’s people: display names by login. Asked where a record names one of them. */
export async function peopleOf(database: Database | Transaction, cabinet: string): Promise<Map<string, string>> {
  const { rows } = await database.raw<{ rows: { login: string; name: string }[] }>(
    `SELECT a.login, a.display_name AS name FROM fiche.membership m JOIN fiche.account a ON a.login = m.login
     WHERE m.cabinet = ? AND a.closed_at IS NULL`,
    [cabinet],
  );
  return new Map(rows.map(({ login, name }) => [login, name]));
}
