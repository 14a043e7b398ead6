import { randomBytes } from 'node:crypto';
import { say, sayLater } from '@fiche/core/languages';
import type { Office } from '@fiche/core/office';
import { CABINET_RIGHTS, FIRST_ROLES } from '@fiche/core/rights';
import { labelTaken, nameFrom } from '@fiche/core/tables';
import { tokenHash } from '../access/index.ts';
import { asActor, type Database, type Transaction } from '../database/index.ts';
import { addRole, keepOffice } from '../definitions/index.ts';
import { Refusal, unacceptable } from '../http/index.ts';
import { createCabinet } from '../tables/index.ts';
import { passwordIsRight, passwordProblem } from './password.ts';
import { SAMPLE_PASSWORD } from './samples.ts';
import { addAccount, addMembership } from './store.ts';

/** Minutes for which a key that makes the first administrator is good. */
const KEY_MINUTES = 60;

/**
 * Whether nobody can sign in who may manage people: an office that was just made, or one whose administrators still have
 * the password of the sample office, which is refused outside it. As the owner.
 */
export async function lacksAdministrator(owner: Database | Transaction): Promise<boolean> {
  const { rows } = await owner.raw<{ rows: { password_hash: string }[] }>(
    `SELECT DISTINCT a.password_hash FROM fiche.account a JOIN fiche.membership m ON m.login = a.login JOIN fiche.role r ON r.cabinet = m.cabinet AND r.id = m.role
     WHERE a.closed_at IS NULL AND a.password_hash IS NOT NULL AND 'people' = ANY(r.rights) LIMIT 20`,
  );
  for (const { password_hash: stored } of rows) if (!(await passwordIsRight(stored, SAMPLE_PASSWORD))) return false;
  return true;
}

/** A new key that makes the first administrator once, within an hour. Only its hash is kept. As the owner. */
export async function offerFirstKey(owner: Database): Promise<string> {
  const token = randomBytes(24).toString('base64url');
  await owner.raw('DELETE FROM fiche.first_key WHERE expires_at < now()');
  await owner.raw('INSERT INTO fiche.first_key (token_hash, expires_at) VALUES (?, now() + make_interval(mins => ?))', [
    tokenHash(token),
    KEY_MINUTES,
  ]);
  return token;
}

interface FirstAdministrator {
  readonly token: string;
  readonly login: string;
  readonly displayName: string;
  readonly password: string;
  /** The name of the first cabinet. */
  readonly cabinet: string;
  readonly office?: Office;
}

/**
 * Makes the first administrator, with a cabinet to work in and a place in those that are there. The key is used up with
 * it. Throws 403 for a key that is not good, 422 for what was typed.
 */
export async function makeFirstAdministrator(owner: Database, first: FirstAdministrator): Promise<void> {
  const actor = { name: first.login, through: { kind: 'tables', label: sayLater('First administrator') } } as const;
  await asActor(owner, actor, async (transaction) => {
    // Two that come with keys at once take turns; the second finds an administrator.
    const used = await transaction('fiche.first_key')
      .where({ token_hash: tokenHash(first.token) })
      .where('expires_at', '>', transaction.fn.now())
      .delete();
    await transaction.raw('LOCK TABLE fiche.account IN SHARE ROW EXCLUSIVE MODE');
    if (used === 0 || !(await lacksAdministrator(transaction)))
      throw new Refusal(
        403,
        say('This link is used up or too old. Restart the server: it prints another while there is no administrator.'),
      );
    const wrong = passwordProblem(first.password, first.login);
    if (wrong !== undefined) throw unacceptable([{ path: 'password', rule: 'password', message: wrong }]);
    if (await transaction('fiche.account').where({ login: first.login }).first('login'))
      throw unacceptable([
        { path: 'login', rule: 'unique', message: say('There is an account with this login. Choose another.') },
      ]);
    const cabinets = await transaction('fiche.cabinet').select('id', 'label');
    const taken = labelTaken(
      first.cabinet,
      cabinets.map((one) => String(one.label)),
      'cabinet',
    );
    if (taken) throw unacceptable([taken]);
    await addAccount(transaction, first.login, first.displayName, first.password);
    const ids = cabinets.map((one) => String(one.id));
    const id = nameFrom(first.cabinet.slice(0, 20), new Set(ids), 'cabinet');
    await createCabinet(transaction, id, first.cabinet);
    for (const cabinet of [...ids, id])
      await addMembership(transaction, first.login, cabinet, await administratorsRole(transaction, cabinet));
    // What another administrator has chosen before stays.
    if (first.office && !(await transaction('fiche.office').first('one'))) await keepOffice(transaction, first.office);
    await transaction('fiche.first_key').delete();
  });
}

/** The role of a cabinet that allows everything; made anew where its people have changed or deleted it. */
async function administratorsRole(owner: Transaction, cabinet: string): Promise<string> {
  const { rows } = await owner.raw<{ rows: { id: string }[] }>(
    'SELECT id FROM fiche.role WHERE cabinet = ? AND rights @> ?::text[] ORDER BY id LIMIT 1',
    [cabinet, `{${CABINET_RIGHTS.join(',')}}`],
  );
  if (rows[0]) return rows[0].id;
  const taken: { id: string }[] = await owner('fiche.role').where({ cabinet }).select('id');
  const id = nameFrom('Administrator', new Set(taken.map((one) => one.id)), 'administrator');
  const builder = FIRST_ROLES.find((one) => one.rights.length === CABINET_RIGHTS.length);
  if (!builder) throw new Error('No role allows everything');
  const { id: _id, revision: _revision, ...definition } = builder;
  await addRole(owner, cabinet, id, { ...definition, label: 'Administrator' });
  return id;
}
