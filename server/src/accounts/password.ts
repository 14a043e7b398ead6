import { hash, verify } from '@node-rs/argon2';

// Argon2id with 19 MiB, 2 passes, 1 lane: OWASP's password storage guidance.
const OPTIONS = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export const hashPassword = (password: string): Promise<string> => hash(password, OPTIONS);

let unknownLogin: Promise<string> | undefined;

/** Whether a password is right. An unknown login (no stored hash) costs the same time and is never right. */
export async function passwordIsRight(stored: string | undefined, password: string): Promise<boolean> {
  unknownLogin ??= hashPassword('no account has this password');
  const right = await verify(stored ?? (await unknownLogin), password, OPTIONS);
  return right && stored !== undefined;
}
