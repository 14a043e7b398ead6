import type { ListedRole } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { type Role, type RoleDefinition, roleProblems, unfillableForms } from '@fiche/core/rights';
import { labelTaken, nameFrom } from '@fiche/core/tables';
import { TOKEN } from '../access/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import { addRole, type Definitions, findRole, writeRole } from '../definitions/index.ts';
import { announceEnd } from '../events/index.ts';
import { notFound, Refusal, unacceptable } from '../http/index.ts';
import { type Manager, mayGive, requireManagers } from './managePeople.ts';
import { renewStreams } from './sessions.ts';

/** The roles of a cabinet, with who has them. As the owner. */
export async function listRoles(owner: Database, { definitions, cabinet }: Manager): Promise<ListedRole[]> {
  const { rows } = await owner.raw<{ rows: { id: string; people: number; tokens: number }[] }>(
    `SELECT r.id, (SELECT count(*)::integer FROM fiche.membership m WHERE m.cabinet = r.cabinet AND m.role = r.id) AS people,
       (SELECT count(*)::integer FROM fiche.token t WHERE t.cabinet = r.cabinet AND t.role = r.id AND t.revoked_at IS NULL) AS tokens
     FROM fiche.role r WHERE r.cabinet = ?`,
    [cabinet],
  );
  const counts = new Map(rows.map((row) => [row.id, row]));
  const whole = definitions.seen?.whole ?? definitions;
  return [...(whole.roles.get(cabinet)?.values() ?? [])].map((role) => ({
    role,
    people: counts.get(role.id)?.people ?? 0,
    tokens: counts.get(role.id)?.tokens ?? 0,
    mayChange: mayGive({ definitions }, role),
    findings: findingsOf(whole, role),
  }));
}

/** What is worth a look in a role: conditions that hold for no record, forms that it fills and cannot finish. */
function findingsOf({ tables, forms }: Definitions, role: Role): string[] {
  const live = [...forms.values()].flatMap((form) =>
    form.live && !form.archived ? [{ id: form.id, definition: form.live }] : [],
  );
  return [
    ...roleProblems(role, tables).map((one) => one.message),
    ...unfillableForms(role, live, tables).map((one) => one.message),
  ];
}

/** Makes a role as a copy of another. As the owner, in a transaction. */
export async function createRole(
  owner: Transaction,
  manager: Manager,
  { label, from }: { readonly label: string; readonly from: string },
): Promise<Role> {
  const { cabinet } = manager;
  const source = await findRole(owner, cabinet, from);
  if (!source) throw unacceptable([{ path: 'from', rule: 'role', message: say('Choose a role of the list.') }]);
  requireMayGive(manager, source);
  await requireFreeLabel(owner, cabinet, label);
  const taken: { id: string }[] = await owner('fiche.role').where({ cabinet }).select('id');
  const id = nameFrom(label, new Set([...taken.map((one) => one.id), 'public', 'none']), 'role');
  const { id: _from, revision: _revision, ...definition } = source;
  await addRole(owner, cabinet, id, { ...definition, label });
  const made = await findRole(owner, cabinet, id);
  if (!made) throw new Error('The role was not made');
  return made;
}

/**
 * Changes what a role allows: to nothing that the caller may not do, and never so that nobody manages people any more. As
 * the owner, in a transaction. Throws 403, 404, 409 and 422.
 */
export async function changeRole(
  owner: Transaction,
  manager: Manager,
  id: string,
  { definition, revision }: { readonly definition: RoleDefinition; readonly revision: number },
): Promise<Role> {
  const { cabinet, definitions } = manager;
  const before = await findRole(owner, cabinet, id);
  if (!before) throw notFound(say('This role'));
  if (before.revision !== revision)
    throw new Refusal(
      409,
      say(
        'Somebody else has changed the role {label} meanwhile. It is shown as it is now: look, then make your change again.',
        { label: before.label },
      ),
    );
  requireMayGive(manager, before);
  requireMayGive(manager, definition);
  if (definition.label !== before.label) await requireFreeLabel(owner, cabinet, definition.label, id);
  const problems = roleProblems(definition, (definitions.seen?.whole ?? definitions).tables);
  if (problems.length > 0) throw unacceptable(problems);
  await writeRole(owner, cabinet, { ...definition, id, revision });
  await requireManagers(owner, [cabinet]);
  await renewStreamsOf(owner, cabinet, id);
  return { ...definition, id, revision: revision + 1 };
}

/** Deletes a role that nobody has. As the owner, in a transaction. */
export async function deleteRole(owner: Transaction, manager: Manager, id: string): Promise<void> {
  const { cabinet } = manager;
  const role = await findRole(owner, cabinet, id);
  if (!role) throw notFound(say('This role'));
  requireMayGive(manager, role);
  const people = await owner('fiche.membership').where({ cabinet, role: id }).select('login');
  const tokens = await owner('fiche.token').where({ cabinet, role: id }).select('name');
  const having = [...people.map((one) => String(one.login)), ...tokens.map((one) => `token:${one.name}`)];
  if (having.length > 0)
    throw new Refusal(
      409,
      say('{list}{count} {more} the role {label}, or had it. Only a role that nobody has can be deleted.', {
        list: having.slice(0, 3).join(', '),
        count: having.length > 3 ? ` and ${having.length - 3} more` : '',
        more: having.length === 1 ? 'has' : 'have',
        label: role.label,
      }),
    );
  await owner('fiche.role').where({ cabinet, id }).delete();
  // Whoever sees the cabinet as this role sees it as their own again.
  const seeing: { login: string }[] = await owner('fiche.seen_as')
    .where({ cabinet, role: id })
    .whereNull('ended_at')
    .update({ ended_at: owner.raw('fiche.moment()') })
    .returning('login');
  for (const { login } of seeing) await renewStreams(owner, login);
}

function requireMayGive({ definitions }: Manager, role: RoleDefinition): void {
  if (mayGive({ definitions }, role)) return;
  throw new Refusal(
    403,
    say('The role {label} would allow more than you may do here: somebody who may do all of it has to change it.', {
      label: role.label,
    }),
  );
}

async function requireFreeLabel(owner: Transaction, cabinet: string, label: string, but?: string): Promise<void> {
  const others: { id: string; label: string }[] = await owner('fiche.role').where({ cabinet }).select('id', 'label');
  const taken = labelTaken(
    label,
    others.filter((one) => one.id !== but).map((one) => one.label),
    'label',
  );
  if (taken) throw unacceptable([taken]);
}

/** Has the streams of everybody with a role, of those who see the cabinet as it, and of its tokens begin anew. */
async function renewStreamsOf(owner: Transaction, cabinet: string, role: string): Promise<void> {
  const people: { login: string }[] = await owner('fiche.membership').where({ cabinet, role }).select('login');
  const seeing: { login: string }[] = await owner('fiche.seen_as')
    .where({ cabinet, role })
    .whereNull('ended_at')
    .select('login');
  for (const login of new Set([...people, ...seeing].map((one) => one.login))) await renewStreams(owner, login);
  const tokens: { token_hash: string }[] = await owner('fiche.token')
    .where({ cabinet, role })
    .whereNull('revoked_at')
    .select('token_hash');
  for (const { token_hash } of tokens) await announceEnd(owner, `${TOKEN}${token_hash}`);
}
