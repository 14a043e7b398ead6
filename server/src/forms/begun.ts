import { randomBytes } from 'node:crypto';
import { say } from '@fiche/core/languages';
import type { IdOfForm } from '@fiche/core/tables';
import { type Database, isSigned, sign, type Transaction } from '../database/index.ts';
import { Refusal } from '../http/index.ts';

type Queryable = Database | Transaction;

/** Hours in which an entry that was begun on a version may still be finished after the next one went live. */
export const FINISH_HOURS = 24;

/**
 * A token that says that somebody opened a version of a form at a moment: `version.seconds.random.signature`. Two who open
 * it in the same second have a token each: what is counted of one opening is not counted of the other.
 */
export async function beginToken(
  database: Database,
  form: IdOfForm,
  version: number,
  now = Date.now(),
): Promise<string> {
  const seconds = Math.floor(now / 1_000);
  const random = randomBytes(9).toString('base64url');
  return `${version}.${seconds}.${random}.${await sign(database, `${form} ${version} ${seconds} ${random}`)}`;
}

/** When a version of a form was opened, in seconds since 1970, as a token says; undefined when it is not one of ours. */
export async function begunAt(
  database: Database,
  form: IdOfForm,
  version: number,
  token: string,
): Promise<number | undefined> {
  const [number = '', seconds = '', random = '', signature = ''] = token.split('.');
  if (Number(number) !== version || !/^\d{1,12}$/.test(seconds)) return undefined;
  const what = `${form} ${version} ${seconds} ${random}`;
  return (await isSigned(database, what, signature)) ? Number(seconds) : undefined;
}

/**
 * Checks that an entry was begun on an older version of a form while that was live, and not too long ago. Rules that came
 * later would otherwise be passed by whoever names a version that did not have them. Throws 409.
 */
export async function checkBegun(
  database: Database,
  form: IdOfForm,
  version: number,
  token: string | undefined,
): Promise<void> {
  const changed = new Refusal(
    409,
    say('This form has changed since you opened it. Open it again; copy what you wrote first.'),
  );
  const begun = token === undefined ? undefined : await begunAt(database, form, version, token);
  if (begun === undefined) throw changed;
  const { rows } = await (database as Queryable).raw<{ rows: unknown[] }>(
    `SELECT 1 FROM fiche.form_version WHERE form_id = ? AND number = ? + 1
       AND published_at > now() - make_interval(hours => ?) AND published_at + interval '1 minute' > to_timestamp(?)`,
    [form, version, FINISH_HOURS, begun],
  );
  if (rows.length === 0) throw changed;
}
