import { say, sayLater } from '@fiche/core/languages';
import type { Caller } from '../access/index.ts';
import { asActor, type Database } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import { renewStreams } from './sessions.ts';

const through = { kind: 'tables', label: sayLater('See as a role') } as const;

/**
 * Lets a session see a cabinet as a role has it, without changing anything, until it stops. For whoever builds there; that
 * it was done is in the ledger. As the owner. Throws 403 and 404.
 */
export async function seeAs(
  owner: Database,
  caller: Caller,
  { roles }: Definitions,
  { cabinet, role }: { readonly cabinet: string; readonly role: string },
): Promise<void> {
  const membership = caller.memberships.get(cabinet);
  if (!membership) throw notFound(say('This cabinet'));
  if (!roles.get(cabinet)?.has(role)) throw notFound(say('This role'));
  if (caller.seesAs !== undefined)
    throw new Refusal(409, say('You see a cabinet as a role already. Leave that first.'));
  if (!membership.rights.includes('build') || membership.lacksFactor)
    throw new Refusal(403, say('Only who may build forms here sees the cabinet as a role has it.'));
  const login = caller.login ?? '';
  await asActor(owner, { name: login, through }, async (transaction) => {
    await transaction.raw(
      `INSERT INTO fiche.seen_as (session, login, cabinet, role) SELECT id, login, ?, ? FROM fiche.session WHERE token_hash = ?`,
      [cabinet, role, caller.credential],
    );
    await renewStreams(transaction, login);
  });
}

/** Ends what `seeAs` began; nothing where nothing was begun. As the owner. */
export async function stopSeeingAs(owner: Database, caller: Caller): Promise<void> {
  const login = caller.login ?? '';
  await asActor(owner, { name: login, through }, async (transaction) => {
    await transaction.raw(
      `UPDATE fiche.seen_as SET ended_at = fiche.moment() WHERE ended_at IS NULL AND session = (SELECT id FROM fiche.session WHERE token_hash = ?)`,
      [caller.credential],
    );
    await renewStreams(transaction, login);
  });
}
