import { createHash } from 'node:crypto';
import { RIGHTS, type Right } from '@fiche/core/api';
import { ask, type Database } from '../database/index.ts';

export interface Membership {
  readonly cabinet: string;
  readonly label: string;
  readonly role: string;
  readonly rights: readonly Right[];
}

/** Who calls: nobody, or a signed-in account with its rights by cabinet. */
export interface Caller {
  readonly login: string | null;
  readonly displayName: string;
  readonly csrf: string;
  readonly memberships: ReadonlyMap<string, Membership>;
}

export const NOBODY: Caller = { login: null, displayName: '', csrf: '', memberships: new Map() };

/** Only the hash of a session's token is kept. */
export const tokenHash = (token: string): string => createHash('sha256').update(token).digest('hex');

interface SessionRow {
  login: string | null;
  display_name: string | null;
  csrf: string | null;
  memberships: { cabinet: string; label: string; role: string; rights: string[] }[] | null;
  revisions: Record<string, number> | null;
}

/** The caller of a session token, and the revision of every cabinet's definitions: one question a request. */
export async function findCaller(
  app: Database,
  token: string | undefined,
): Promise<{ caller: Caller; revisions: Record<string, number> }> {
  const rows = await ask<SessionRow>(
    app,
    `SELECT a.login, a.display_name, s.csrf,
       (SELECT json_agg(json_build_object('cabinet', c.id, 'label', c.label, 'role', r.label, 'rights', r.rights) ORDER BY c.label)
        FROM fiche.membership m JOIN fiche.cabinet c ON c.id = m.cabinet JOIN fiche.role r ON r.id = m.role
        WHERE m.login = a.login) AS memberships,
       (SELECT json_object_agg(id, revision) FROM fiche.cabinet) AS revisions
     FROM (SELECT 1) one
     LEFT JOIN LATERAL fiche.session_of(?) s ON true
     LEFT JOIN fiche.account a ON a.login = s.login`,
    [token === undefined ? '' : tokenHash(token)],
  );
  const [row] = rows;
  const revisions = row?.revisions ?? {};
  if (!row || row.login === null) return { caller: NOBODY, revisions };
  const memberships = (row.memberships ?? []).map((one) => ({
    ...one,
    rights: RIGHTS.filter((right) => one.rights.includes(right)),
  }));
  return {
    caller: {
      login: row.login,
      displayName: row.display_name ?? row.login,
      csrf: row.csrf ?? '',
      memberships: new Map(memberships.map((one) => [one.cabinet, one])),
    },
    revisions,
  };
}
