import type { PersonView } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { type CabinetRight, covers, type RoleDefinition, rightsAnywhere } from '@fiche/core/rights';
import type { Caller } from '../access/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import { type Definitions, findRole } from '../definitions/index.ts';
import { notFound, Refusal, unacceptable } from '../http/index.ts';
import { withdrawLinks } from '../messages/index.ts';
import type { MailSettings } from '../services.ts';
import { makePasswordLink } from './passwordLink.ts';
import { removeSecondFactor } from './secondFactor.ts';
import { endSessions, renewStreams } from './sessions.ts';
import { addAccount, addMembership } from './store.ts';

interface PersonRow extends Omit<PersonView, 'mayManage'> {
  /** The cabinets that the account belongs to. */
  readonly cabinets: readonly string[];
}

const rightsIn = (caller: Caller, cabinet: string): readonly CabinetRight[] =>
  caller.memberships.get(cabinet)?.rights ?? [];

/** A role can be given, taken and changed by whoever may do all that it allows. */
export const mayGive = ({ definitions: { seen } }: Pick<Manager, 'definitions'>, role: RoleDefinition): boolean =>
  seen !== undefined && covers(seen.role, role, seen.whole.tables);

/** An account itself is changed by who manages the people of all its cabinets: its password opens each of them. */
const mayManage = (caller: Caller, cabinets: readonly string[]): boolean =>
  cabinets.every((cabinet) => rightsIn(caller, cabinet).includes('people'));

/** The people of a cabinet, and what the caller may do with them. As the owner. */
export async function listPeople(owner: Database, { caller, cabinet, definitions }: Manager) {
  const { rows } = await owner.raw<{ rows: PersonRow[] }>(
    `SELECT a.login, a.display_name AS "displayName", coalesce(a.email, '') AS email, m.role, a.closed_at IS NOT NULL AS closed,
       a.password_hash IS NULL AS invited, l.expires_at AS "linkUntil",
       EXISTS (SELECT FROM fiche.second_factor f WHERE f.login = a.login AND f.confirmed_at IS NOT NULL) AS "secondFactor",
       (SELECT max(s.seen_at) FROM fiche.session s WHERE s.login = a.login) AS "lastSeen",
       (SELECT array_agg(o.cabinet) FROM fiche.membership o WHERE o.login = a.login) AS cabinets
     FROM fiche.membership m JOIN fiche.account a ON a.login = m.login
     LEFT JOIN fiche.password_link l ON l.login = a.login AND l.expires_at > now()
     WHERE m.cabinet = ? ORDER BY a.closed_at IS NOT NULL, a.login`,
    [cabinet],
  );
  const managed = [...caller.memberships.values()].filter((one) => one.rights.includes('people'));
  const { rows: others } = await owner.raw<{ rows: { login: string; displayName: string }[] }>(
    `SELECT a.login, a.display_name AS "displayName" FROM fiche.account a WHERE a.closed_at IS NULL
       AND (EXISTS (SELECT FROM fiche.membership m WHERE m.login = a.login AND m.cabinet = ANY(?))
         OR NOT EXISTS (SELECT FROM fiche.membership m WHERE m.login = a.login))
       AND NOT EXISTS (SELECT FROM fiche.membership m WHERE m.login = a.login AND m.cabinet = ?) ORDER BY a.login`,
    [managed.map((one) => one.cabinet), cabinet],
  );
  const { tables, roles } = definitions.seen?.whole ?? definitions;
  return {
    people: rows.map(({ cabinets, ...person }) => ({ ...person, mayManage: mayManage(caller, cabinets) })),
    roles: [...(roles.get(cabinet)?.values() ?? [])].map((role) => ({
      id: role.id,
      label: role.label,
      rights: rightsAnywhere(role, tables),
      mayGive: mayGive({ definitions }, role),
    })),
    others,
  };
}

/** Who manages people, in which cabinet, and what they see and may do there themselves. */
export interface Manager {
  readonly caller: Caller;
  readonly cabinet: string;
  readonly definitions: Definitions;
}

const senderOf = ({ caller, cabinet }: Manager, mail: MailSettings) => ({ by: caller.displayName, cabinet, mail });

/** Makes an account with a role, and the link that sets its first password. As the owner, in a transaction. */
export async function invitePerson(
  owner: Transaction,
  manager: Manager,
  { login, displayName, role, email }: { login: string; displayName: string; role: string; email: string },
  mail: MailSettings,
) {
  await requireGivableRole(owner, manager, role);
  const known = await owner('fiche.account').where({ login }).first('login');
  if (known)
    throw unacceptable([
      {
        path: 'login',
        rule: 'unique',
        message: say(
          'There is an account with this login. A login is never used again: choose another, or add that account to the cabinet.',
        ),
      },
    ]);
  await addAccount(owner, login, displayName, null, email);
  await addMembership(owner, login, manager.cabinet, role);
  return makePasswordLink(owner, login, 'invitation', senderOf(manager, mail));
}

/** Adds an account of another cabinet, whose people the caller manages as well, or of none. As the owner, in a transaction. */
export async function addPerson(owner: Transaction, manager: Manager, login: string, role: string): Promise<void> {
  await requireGivableRole(owner, manager, role);
  const memberships: { cabinet: string }[] = await owner('fiche.membership').where({ login }).select('cabinet');
  const open = await owner('fiche.account').where({ login }).whereNull('closed_at').first('login');
  const theirs = memberships.some((one) => rightsIn(manager.caller, one.cabinet).includes('people'));
  // An account that was removed from its last cabinet can be added again by whoever manages people.
  if (!open || (memberships.length > 0 && !theirs)) throw notFound(say('This account'));
  if (memberships.some((one) => one.cabinet === manager.cabinet))
    throw new Refusal(409, say('{login} is in this cabinet already. Change the role there.', { login }));
  await addMembership(owner, login, manager.cabinet, role);
  await renewStreams(owner, login);
}

export interface PersonChange {
  readonly role?: string;
  readonly displayName?: string;
  readonly email?: string;
  readonly closed?: boolean;
}

/** Changes somebody’s role in the cabinet, or their account. As the owner, in a transaction. */
export async function changePerson(
  owner: Transaction,
  manager: Manager,
  login: string,
  change: PersonChange,
): Promise<void> {
  const cabinets = await requireMember(owner, manager, login);
  const { role, displayName, email, closed } = change;
  if (role !== undefined) {
    await requireGivableRole(owner, manager, role);
    await owner('fiche.membership').where({ login, cabinet: manager.cabinet }).update({ role });
  }
  const account = {
    ...(displayName === undefined ? {} : { display_name: displayName }),
    ...(email === undefined ? {} : { email: email === '' ? null : email }),
    ...(closed === undefined ? {} : { closed_at: closed ? owner.raw('fiche.moment()') : null }),
  };
  if (Object.keys(account).length > 0) {
    requireAccountManager(manager, login, cabinets);
    if (closed === true && login === manager.caller.login)
      throw new Refusal(409, say('You cannot close your own account. Ask somebody else who manages people.'));
    await owner('fiche.account').where({ login }).update(account);
  }
  if (closed === true) {
    await owner('fiche.password_link').where({ login }).delete();
    await withdrawLinks(owner, login);
    await endSessions(owner, login);
  } else await renewStreams(owner, login);
  await requireManagers(owner, cabinets);
}

/** Takes somebody out of the cabinet; the account stays, and what it wrote. As the owner, in a transaction. */
export async function removePerson(owner: Transaction, manager: Manager, login: string): Promise<void> {
  const cabinets = await requireMember(owner, manager, login);
  await owner('fiche.membership').where({ login, cabinet: manager.cabinet }).delete();
  await renewStreams(owner, login);
  await requireManagers(owner, cabinets);
}

/** Makes a link that sets a new password for somebody. As the owner, in a transaction. */
export async function makeLinkFor(owner: Transaction, manager: Manager, login: string, mail: MailSettings) {
  requireAccountManager(manager, login, await requireMember(owner, manager, login));
  const account = await owner('fiche.account').where({ login }).first('password_hash', 'closed_at');
  if (account?.closed_at) throw new Refusal(409, say('The account {login} is closed. Open it again first.', { login }));
  return makePasswordLink(
    owner,
    login,
    account?.password_hash === null ? 'invitation' : 'reset',
    senderOf(manager, mail),
  );
}

/** Removes the second factor of somebody who has lost it. As the owner, in a transaction. */
export async function removeFactorOf(owner: Transaction, manager: Manager, login: string): Promise<void> {
  requireAccountManager(manager, login, await requireMember(owner, manager, login));
  if (!(await removeSecondFactor(owner, login)))
    throw new Refusal(409, say('{login} has no second factor.', { login }));
}

/**
 * The cabinets of somebody who is in this one, whose role the caller could give. Until the end of the transaction nobody
 * else changes who is in one of them. Throws 404 and 403.
 */
async function requireMember(owner: Transaction, manager: Manager, login: string): Promise<readonly string[]> {
  await owner.raw(
    `SELECT FROM fiche.cabinet WHERE id IN (SELECT cabinet FROM fiche.membership WHERE login = ?) ORDER BY id FOR NO KEY UPDATE`,
    [login],
  );
  const memberships: { cabinet: string; role: string }[] = await owner('fiche.membership')
    .where({ login })
    .select('cabinet', 'role');
  const here = memberships.find((one) => one.cabinet === manager.cabinet);
  if (!here) throw notFound(say('This account'));
  const role = await findRole(owner, manager.cabinet, here.role);
  if (role && !mayGive(manager, role))
    throw new Refusal(
      403,
      say('{login} may do more in this cabinet than you. Ask somebody who may do all of it.', { login }),
    );
  return memberships.map((one) => one.cabinet);
}

/** Checks that the caller may give a role. Throws 422 for one that is not there, 403 for one that allows more than they may. */
export async function requireGivableRole(owner: Transaction, manager: Manager, id: string): Promise<void> {
  const role = await findRole(owner, manager.cabinet, id);
  if (!role) throw unacceptable([{ path: 'role', rule: 'role', message: say('Choose a role of the list.') }]);
  if (!mayGive(manager, role))
    throw new Refusal(
      403,
      say('The role {label} allows more than you may do here: somebody else has to give it.', { label: role.label }),
    );
}

/** Checks that the caller manages the people of all cabinets of an account. Throws 403. */
function requireAccountManager({ caller }: Manager, login: string, cabinets: readonly string[]): void {
  if (!mayManage(caller, cabinets))
    throw new Refusal(
      403,
      say('{login} belongs to another cabinet as well, whose people you do not manage. Ask an administrator of both.', {
        login,
      }),
    );
}

/** Checks that somebody who can sign in manages the people of each cabinet. Throws 409. */
export async function requireManagers(owner: Transaction, cabinets: readonly string[]): Promise<void> {
  const { rows } = await owner.raw<{ rows: { label: string }[] }>(
    `SELECT c.label FROM fiche.cabinet c WHERE c.id = ANY(?) AND NOT EXISTS (
       SELECT FROM fiche.membership m JOIN fiche.role r ON r.cabinet = m.cabinet AND r.id = m.role JOIN fiche.account a ON a.login = m.login
       WHERE m.cabinet = c.id AND 'people' = ANY(r.rights) AND a.closed_at IS NULL AND a.password_hash IS NOT NULL)`,
    [[...cabinets]],
  );
  if (rows[0])
    throw new Refusal(
      409,
      say('Nobody could manage the people of {label} any more. Give somebody else a role that may, first.', {
        label: rows[0].label,
      }),
    );
}
