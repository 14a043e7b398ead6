import { say } from '@fiche/core/languages';
import { Secret, TOTP } from 'otpauth';
import { tokenHash } from '../access/index.ts';
import type { Database, Transaction } from '../database/index.ts';
import { Refusal, unacceptable } from '../http/index.ts';

const SECONDS = 30;
/** Codes of so many steps before and after the present one count: clocks differ. */
const WINDOW = 1;
const RECOVERY_CODES = 10;

const totpOf = (login: string, secret: Secret): TOTP =>
  new TOTP({ issuer: 'Fiche', label: login, secret, period: SECONDS, digits: 6, algorithm: 'SHA1' });

/** Whether an account has a second factor, since when, and how many recovery codes are left. As the owner. */
export async function secondFactorOf(owner: Database, login: string) {
  const row = await owner('fiche.second_factor').where({ login }).whereNotNull('confirmed_at').first('confirmed_at');
  const codes = await owner('fiche.recovery_code').where({ login }).count({ n: '*' }).first();
  return { since: row ? String(row.confirmed_at) : null, recoveryCodes: row ? Number(codes?.n ?? 0) : 0 };
}

/** Begins a second factor: the secret for the application that makes codes. It counts once a code of it was typed. As the owner. */
export async function beginSecondFactor(owner: Transaction, login: string) {
  const secret = new Secret({ size: 20 });
  const { rowCount } = await owner.raw<{ rowCount: number }>(
    `INSERT INTO fiche.second_factor AS f (login, secret) VALUES (?, ?)
     ON CONFLICT (login) DO UPDATE SET secret = excluded.secret, last_step = NULL WHERE f.confirmed_at IS NULL`,
    [login, secret.base32],
  );
  if (rowCount === 0) throw new Refusal(409, say('This account has a second factor already. Remove it first.'));
  return { secret: secret.base32, uri: totpOf(login, secret).toString() };
}

/** Confirms a second factor by its first code; answers with the recovery codes, which are shown once. As the owner. */
export async function confirmSecondFactor(owner: Transaction, login: string, code: string): Promise<string[]> {
  if (!(await useCode(owner, login, code)))
    throw unacceptable([
      { path: 'code', rule: 'secondFactor', message: say('This code is not right. Type the one that is shown now.') },
    ]);
  await owner('fiche.second_factor')
    .where({ login })
    .update({ confirmed_at: owner.raw('fiche.moment()') });
  await owner('fiche.recovery_code').where({ login }).delete();
  const codes = Array.from({ length: RECOVERY_CODES }, recoveryCode);
  await owner('fiche.recovery_code').insert(codes.map((one) => ({ login, code_hash: tokenHash(plain(one)) })));
  return codes;
}

/** Removes the second factor of an account. True when there was one. As the owner. */
export async function removeSecondFactor(owner: Transaction, login: string): Promise<boolean> {
  await owner('fiche.recovery_code').where({ login }).delete();
  return (await owner('fiche.second_factor').where({ login }).delete()) > 0;
}

/**
 * Checks the second factor of a sign-in of the account, where it has one. A code, of the device or for recovery, is used up.
 * As the owner; throws 401 with the path `code`, so that the page asks for it.
 */
export async function requireSecondFactor(owner: Database, login: string, code: string | undefined): Promise<void> {
  if ((await secondFactorOf(owner, login)).since === null) return;
  const refuse = (message: string): never => {
    throw new Refusal(401, message, [{ path: 'code', rule: 'secondFactor', message }]);
  };
  if (code === undefined || code.trim() === '')
    refuse(say('Type the code that your second factor shows, or one of your recovery codes.'));
  const used = await owner.transaction(async (transaction) => {
    if (await useCode(transaction, login, code ?? '')) return true;
    return (
      (await transaction('fiche.recovery_code')
        .where({ login, code_hash: tokenHash(plain(code ?? '')) })
        .delete()) > 0
    );
  });
  if (!used) refuse(say('This code is not right, or was used already. Type the one that is shown now.'));
}

/** Whether a code is one of the device’s that was not used yet; it is used up with that. */
async function useCode(owner: Transaction, login: string, code: string): Promise<boolean> {
  const row = await owner('fiche.second_factor').where({ login }).forUpdate().first('secret', 'last_step');
  const token = plain(code);
  if (!row || !/^\d{6}$/.test(token)) return false;
  const now = Date.now();
  const totp = totpOf(login, Secret.fromBase32(String(row.secret)));
  const delta = totp.validate({ token, window: WINDOW, timestamp: now });
  if (delta === null) return false;
  const step = Math.floor(now / 1_000 / SECONDS) + delta;
  if (row.last_step !== null && step <= Number(row.last_step)) return false;
  await owner('fiche.second_factor').where({ login }).update({ last_step: step });
  return true;
}

/** 80 random bits, in four groups that can be read from paper. */
const recoveryCode = (): string => new Secret({ size: 10 }).base32.replace(/(.{4})(?=.)/g, '$1-');

/** A code as it counts: people type spaces, hyphens and small letters. */
const plain = (code: string): string => code.replace(/[\s-]/g, '').toUpperCase();
