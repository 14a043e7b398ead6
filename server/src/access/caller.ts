import { createHash } from 'node:crypto';
import { RIGHTS, type Right } from '@fiche/core/api';
import { ask, type Database } from '../database/index.ts';
import { Together } from './together.ts';

interface Membership {
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

const NOBODY: Caller = { login: null, displayName: '', csrf: '', memberships: new Map() };

/** Only the hash of a session's token is kept. */
export const tokenHash = (token: string): string => createHash('sha256').update(token).digest('hex');

interface SessionRow {
  hash: string;
  login: string | null;
  display_name: string | null;
  csrf: string | null;
  unnoted: boolean | null;
  memberships: { cabinet: string; label: string; role: string; rights: string[] }[] | null;
  revisions: Record<string, number> | null;
}

/** A caller, and the revision of every cabinet’s definitions. */
interface Found {
  readonly caller: Caller;
  readonly revisions: Record<string, number>;
}

/** Requests of one pool that come together ask together. */
const asking = new WeakMap<object, Together<Found>>();

/**
 * The caller of a session token, and the revision of every cabinet's definitions: what every request asks first. It is
 * asked after the request has come, so that a right that was withdrawn before counts.
 */
export function findCaller(app: Database, token: string | undefined): Promise<Found> {
  const known = asking.get(app) ?? new Together<Found>((hashes) => findCallers(app, hashes));
  asking.set(app, known);
  return known.of(token === undefined ? '' : tokenHash(token));
}

async function findCallers(app: Database, hashes: readonly string[]): Promise<Map<string, Found>> {
  const rows = await ask<SessionRow>(
    app,
    `SELECT asked.hash, a.login, a.display_name, s.csrf, s.unnoted,
       (SELECT json_agg(json_build_object('cabinet', c.id, 'label', c.label, 'role', r.label, 'rights', r.rights) ORDER BY c.label)
        FROM fiche.membership m JOIN fiche.cabinet c ON c.id = m.cabinet JOIN fiche.role r ON r.id = m.role
        WHERE m.login = a.login) AS memberships,
       (SELECT json_object_agg(id, revision) FROM fiche.cabinet) AS revisions
     FROM unnest(?::text[]) AS asked(hash)
     LEFT JOIN LATERAL fiche.session_of(asked.hash) s ON true
     LEFT JOIN fiche.account a ON a.login = s.login`,
    [hashes],
  );
  const unnoted = rows.filter((row) => row.unnoted).map((row) => row.hash);
  if (unnoted.length > 0) await app.raw('SELECT fiche.note_sessions(?)', [unnoted]);
  return new Map(rows.map((row) => [row.hash, foundIn(row)]));
}

function foundIn(row: SessionRow): Found {
  const revisions = row.revisions ?? {};
  if (row.login === null) return { caller: NOBODY, revisions };
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
