import { timingSafeEqual } from 'node:crypto';
import type { Contract, Right } from '@fiche/core/api';
import type { FastifyRequest } from 'fastify';
import type { Definitions } from '../definitions/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { type Caller, findCaller } from './caller.ts';

export const SESSION_COOKIE = 'fiche_session';

/**
 * The one place that decides whether a request may go on: finds its caller, its cabinet (from the route's parameters),
 * and holds the caller's rights there against what the contract needs. Throws 401, 403 or 404.
 */
export async function allow(
  services: Services,
  request: FastifyRequest,
  contract: Contract,
  params: Readonly<Record<string, string>>,
): Promise<{ caller: Caller; definitions: Definitions }> {
  const { caller, revisions } = await findCaller(services.databases.app, request.cookies[SESSION_COOKIE]);
  const definitions = await services.definitions.current(revisions);
  if (contract.needs === 'nobody') return { caller, definitions };
  if (caller.login === null) throw new Refusal(401, 'Sign in first. Nothing you typed is lost.');
  if (contract.method !== 'GET') holdToken(request, caller);
  if (contract.needs !== 'account') needRight(caller, cabinetOf(definitions, params), contract.needs);
  return { caller, definitions };
}

/** A cookie alone does not write: the page has to show the session's token, which another site cannot read. */
function holdToken(request: FastifyRequest, caller: Caller): void {
  const sent = Buffer.from(String(request.headers['x-fiche-csrf'] ?? ''));
  const held = Buffer.from(caller.csrf);
  if (sent.length !== held.length || !timingSafeEqual(sent, held))
    throw new Refusal(403, 'This page is out of date. Reload it and try again.');
}

function cabinetOf(definitions: Definitions, params: Readonly<Record<string, string>>): string {
  const { cabinet, table, form } = params;
  if (cabinet !== undefined && definitions.cabinets.has(cabinet)) return cabinet;
  const found =
    table !== undefined ? definitions.tables.get(table)?.cabinet : definitions.forms.get(form ?? '')?.cabinet;
  if (found !== undefined) return found;
  throw notFound(table !== undefined ? 'This table' : form !== undefined ? 'This form' : 'This cabinet');
}

/** Throws 404 for an account that is not in the cabinet at all, 403 for one whose role lacks the right. */
export function needRight(caller: Caller, cabinet: string, right: Right): void {
  const membership = caller.memberships.get(cabinet);
  if (!membership) throw notFound('This cabinet');
  if (!membership.rights.includes(right))
    throw new Refusal(
      403,
      `Your role, ${membership.role}, does not allow this. Ask an administrator for the right to “${right}”.`,
    );
}
