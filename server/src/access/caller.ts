import { CABINET_RIGHTS, type CabinetRight } from '@fiche/core/rights';
import { ask, type Databases, type WalPosition, walPositionSql } from '../database/index.ts';
import { TOKEN } from './credential.ts';
import { Together } from './together.ts';

interface Membership {
  readonly cabinet: string;
  readonly label: string;
  /** The id of the role, and its label. */
  readonly role: string;
  readonly roleLabel: string;
  /** Rights to the cabinet as a whole; those to its tables are in the role. */
  readonly rights: readonly CabinetRight[];
  /** Whether the role works only with a second factor, and the account has none. */
  readonly lacksFactor: boolean;
}

/** Who calls: nobody, a signed-in account with its rights by cabinet, or a program with a token. */
export interface Caller {
  /** An account’s login or, for a program, `token:` and the name of its token; null for nobody. */
  readonly login: string | null;
  /** For a program: its token, and the only tables that it may be used for; null for all. */
  readonly token: { readonly id: number; readonly tables: readonly string[] | null } | null;
  /** What was shown for it: see `credentialOf`. */
  readonly credential: string;
  readonly displayName: string;
  readonly csrf: string;
  readonly memberships: ReadonlyMap<string, Membership>;
  /** The cabinet that the session sees as another role, without changing anything; its membership here is of that role. */
  readonly seesAs?: string;
}

const NOBODY: Omit<Caller, 'credential'> = {
  login: null,
  token: null,
  displayName: '',
  csrf: '',
  memberships: new Map(),
};

interface SessionRow {
  hash: string;
  login: string | null;
  display_name: string | null;
  csrf: string | null;
  touch_due: boolean | null;
  token: number | null;
  token_name: string | null;
  token_tables: string[] | null;
  second_factor: boolean | null;
  as_cabinet: string | null;
  as_role: string | null;
  memberships:
    | { cabinet: string; label: string; role: string; roleLabel: string; rights: string[]; needsFactor: boolean }[]
    | null;
  revisions: Record<string, number> | null;
  walPosition: WalPosition | null;
}

/** A caller, the revision of every cabinet’s definitions, and how far the primary was: what they read from a standby has to be as far. */
interface Found {
  readonly caller: Caller;
  readonly revisions: Record<string, number>;
  /** Null where there is no standby. */
  readonly walPosition: WalPosition | null;
}

type Connections = Pick<Databases, 'app' | 'standbys'>;

/** Requests of one pool that come together ask together. */
const asking = new WeakMap<object, Together<Found>>();

/**
 * The caller of a credential, and the revision of every cabinet's definitions: what every request asks first. It is
 * asked after the request has come, so that a right that was withdrawn before counts.
 */
export function findCaller(databases: Connections, credential: string): Promise<Found> {
  const known = asking.get(databases.app) ?? new Together<Found>((hashes) => findCallers(databases, hashes));
  asking.set(databases.app, known);
  return known.of(credential);
}

async function findCallers(databases: Connections, credentials: readonly string[]): Promise<Map<string, Found>> {
  const { app } = databases;
  const rows = await ask<SessionRow>(
    app,
    `SELECT asked.hash, a.login, a.display_name, s.csrf, coalesce(s.touch_due, t.touch_due) AS touch_due, t.id AS token, t.name AS token_name, t.tables AS token_tables,
       s.second_factor, s.as_cabinet, s.as_role,
       (SELECT json_agg(json_build_object('cabinet', c.id, 'label', c.label, 'role', r.id, 'roleLabel', r.label, 'rights', r.rights, 'needsFactor', (r.reach->>'secondFactor')::boolean) ORDER BY c.label)
        FROM (SELECT m.cabinet, CASE WHEN m.cabinet = s.as_cabinet THEN s.as_role ELSE m.role END AS role FROM fiche.membership m WHERE m.login = a.login
          UNION ALL SELECT t.cabinet, t.role WHERE t.id IS NOT NULL) m
        JOIN fiche.cabinet c ON c.id = m.cabinet JOIN fiche.role r ON r.cabinet = m.cabinet AND r.id = m.role) AS memberships,
       (SELECT json_object_agg(id, revision) FROM fiche.cabinet) AS revisions, ${walPositionSql(databases)} AS walPosition
     FROM unnest(?::text[]) AS asked(hash)
     LEFT JOIN LATERAL fiche.session_of(asked.hash) s ON true
     LEFT JOIN LATERAL fiche.token_of(substring(asked.hash FROM '^${TOKEN}(.*)$')) t ON true
     LEFT JOIN fiche.account a ON a.login = s.login`,
    [credentials],
  );
  const due = rows.filter((row) => row.touch_due);
  const tokens = due.flatMap((row) => (row.token === null ? [] : [row.token]));
  const sessions = due.flatMap((row) => (row.token === null ? [row.hash] : []));
  if (sessions.length > 0) await app.raw('SELECT fiche.touch_sessions(?)', [sessions]);
  if (tokens.length > 0) await app.raw('SELECT fiche.touch_tokens(?)', [tokens]);
  return new Map(rows.map((row) => [row.hash, foundIn(row)]));
}

function foundIn(row: SessionRow): Found {
  const { walPosition } = row;
  const revisions = row.revisions ?? {};
  const login = row.login ?? (row.token_name === null ? null : `${TOKEN}${row.token_name}`);
  if (login === null) return { caller: { ...NOBODY, credential: row.hash }, revisions, walPosition };
  const memberships = (row.memberships ?? []).map(({ needsFactor, ...one }) => ({
    ...one,
    rights: CABINET_RIGHTS.filter((right) => one.rights.includes(right)),
    // A program has no second factor: its token is a secret of its own.
    lacksFactor: needsFactor && row.token === null && row.as_cabinet === null && row.second_factor !== true,
  }));
  return {
    caller: {
      login,
      token: row.token === null ? null : { id: row.token, tables: row.token_tables },
      credential: row.hash,
      displayName: row.display_name ?? login,
      csrf: row.csrf ?? '',
      memberships: new Map(memberships.map((one) => [one.cabinet, one])),
      ...(row.as_cabinet === null ? {} : { seesAs: row.as_cabinet }),
    },
    revisions,
    walPosition,
  };
}
