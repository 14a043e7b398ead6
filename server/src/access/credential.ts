import { createHash } from 'node:crypto';
import type { FastifyRequest } from 'fastify';

export const SESSION_COOKIE = 'fiche_session';

/** Only the hash of a token is kept: a session’s, a link’s, a program’s. */
export const tokenHash = (token: string): string => createHash('sha256').update(token).digest('hex');

/** What marks the credential of a program’s token apart from that of a session. */
export const TOKEN = 'token:';

/**
 * What a request shows for who calls, as it is looked up: the hash of its bearer token (RFC 6750) or of its session’s cookie;
 * `''` for neither. With a bearer token the cookie does not count.
 */
export function credentialOf(request: FastifyRequest): string {
  const bearer = /^Bearer\s+(\S+)$/i.exec(request.headers.authorization ?? '')?.[1];
  if (bearer !== undefined) return `${TOKEN}${tokenHash(bearer)}`;
  const session = request.cookies[SESSION_COOKIE];
  return session === undefined ? '' : tokenHash(session);
}
