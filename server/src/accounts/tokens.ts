import { randomBytes } from 'node:crypto';
import type { TokenView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { TOKEN, tokenHash } from '../access/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { announceEnd } from '../events/index.ts';
import { notFound, unacceptable } from '../http/index.ts';
import { type Manager, requireGivableRole } from './managePeople.ts';

/** The tokens of a cabinet, those in use first. As the owner. */
export async function listTokens(owner: Database, cabinet: string): Promise<TokenView[]> {
  const { rows } = await owner.raw<{ rows: TokenView[] }>(
    `SELECT id, name, role, tables, made_by AS "madeBy", made_at AS "madeAt", expires_at AS expires, revoked_at AS revoked,
       used_at AS used FROM fiche.token WHERE cabinet = ? ORDER BY revoked_at IS NOT NULL, name`,
    [cabinet],
  );
  return rows;
}

interface NewToken {
  readonly name: string;
  readonly role: string;
  readonly tables: readonly string[] | null;
  readonly until: string | null;
}

/** Makes a token; only its hash is kept, so that it is answered this once. As the owner, in a transaction. */
export async function makeToken(
  owner: Transaction,
  manager: Manager,
  { tables, office }: Definitions,
  wanted: NewToken,
): Promise<{ id: number; token: string }> {
  await requireGivableRole(owner, manager, wanted.role);
  const unknown = wanted.tables?.find((id) => tables.get(id)?.cabinet !== manager.cabinet);
  if (unknown !== undefined)
    throw unacceptable([
      { path: 'tables', rule: 'table', message: say('{unknown} is not a table of this cabinet.', { unknown }) },
    ]);
  if (await owner('fiche.token').where({ name: wanted.name }).first('id'))
    throw unacceptable([
      {
        path: 'name',
        rule: 'unique',
        message: say('There is or was a token of this name; it stands in histories. Choose another.'),
      },
    ]);
  const token = `fiche_${randomBytes(24).toString('base64url')}`;
  const { rows } = await owner.raw<{ rows: { id: number; over: boolean | null }[] }>(
    `INSERT INTO fiche.token (name, cabinet, role, tables, token_hash, made_by, expires_at)
     VALUES (?, ?, ?, ?, ?, ?, (?::date + 1)::timestamp AT TIME ZONE ?) RETURNING id, expires_at <= now() AS over`,
    [
      wanted.name,
      manager.cabinet,
      wanted.role,
      wanted.tables === null ? null : [...wanted.tables],
      tokenHash(token),
      manager.caller.login,
      wanted.until,
      office.timeZone,
    ] as string[],
  );
  if (rows[0]?.over)
    throw unacceptable([
      { path: 'until', rule: 'until', message: say('This day is over. Choose a later one, or none.') },
    ]);
  return { id: rows[0]?.id ?? 0, token };
}

/** Revokes a token: from the next request on it is worth nothing. As the owner, in a transaction. */
export async function revokeToken(owner: Transaction, { cabinet }: Manager, id: number): Promise<void> {
  const rows: { token_hash: string }[] = await owner('fiche.token')
    .where({ id: Number.isSafeInteger(id) ? id : 0, cabinet })
    .whereNull('revoked_at')
    .update({ revoked_at: owner.raw('fiche.moment()') })
    .returning('token_hash');
  if (!rows[0]) throw notFound(say('This token'));
  await announceEnd(owner, `${TOKEN}${rows[0].token_hash}`);
}
