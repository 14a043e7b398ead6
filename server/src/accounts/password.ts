import { say } from '@fiche/core/languages';
import { hash, verify } from '@node-rs/argon2';
import { dictionary } from '@zxcvbn-ts/language-common';
import { SAMPLE_PASSWORD } from './samples.ts';

// Argon2id with 19 MiB, 2 passes, 1 lane: OWASP's password storage guidance.
const OPTIONS = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export const hashPassword = (password: string): Promise<string> => hash(password, OPTIONS);

const SHORTEST = 10;
const LONGEST = 200;

/** Passwords that many people have: the first that are tried. Some 49,000 of published lists, in small letters. */
let common: ReadonlySet<string> | undefined;
const isCommon = (password: string): boolean => {
  common ??= new Set(dictionary['passwords-common'].map((one) => String(one).toLowerCase()));
  return common.has(password.toLowerCase());
};

/** Why a password cannot be taken; undefined when it can. No rules of composition (OWASP ASVS 5). */
export function passwordProblem(password: string, login: string): string | undefined {
  if ([...password].length < SHORTEST)
    return say('Choose a password of at least {shortest} characters.', { shortest: SHORTEST });
  if (password.length > LONGEST) return say('Choose a password of at most {longest} characters.', { longest: LONGEST });
  if (password.toLowerCase().includes(login.toLowerCase())) return say('Choose a password without the login in it.');
  if (isCommon(password))
    return say('This password is on the lists of common ones, which are tried first. Choose another.');
  return password === SAMPLE_PASSWORD
    ? say('This is the password of the sample office, which everybody knows. Choose another.')
    : undefined;
}

let unknownLogin: Promise<string> | undefined;

/** Whether a password is right. An unknown login (no stored hash) costs the same time and is never right. */
export async function passwordIsRight(stored: string | undefined, password: string): Promise<boolean> {
  unknownLogin ??= hashPassword('no account has this password');
  const right = await verify(stored ?? (await unknownLogin), password, OPTIONS);
  return right && stored !== undefined;
}
