import { createHash, createHmac, pbkdf2Sync, randomBytes } from 'node:crypto';

const ITERATIONS = 4_096;

/**
 * What PostgreSQL keeps of a password (RFC 5803): given to it in place of the password, so that the password itself
 * stands in no statement, log or list of activity.
 */
export function scramVerifier(password: string, salt = randomBytes(16)): string {
  const salted = pbkdf2Sync(password, salt, ITERATIONS, 32, 'sha256');
  const key = (name: string): Buffer => createHmac('sha256', salted).update(name).digest();
  const stored = createHash('sha256').update(key('Client Key')).digest('base64');
  return `SCRAM-SHA-256$${ITERATIONS}:${salt.toString('base64')}$${stored}:${key('Server Key').toString('base64')}`;
}
