import { timingSafeEqual } from 'node:crypto';
import type { Contract, Right } from '@fiche/core/api';
import type { TableDefinition } from '@fiche/core/tables';
import type { FastifyRequest } from 'fastify';
import { type Definitions, withinCabinet } from '../definitions/index.ts';
import { limit, notFound, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { type Caller, findCaller } from './caller.ts';
import { credentialOf, TOKEN } from './credential.ts';

/** Requests that one token may make in a minute. */
const MOST_OF_TOKEN = 600;

/**
 * The one place that decides whether a request may go on: finds its caller, its cabinet (from the route's parameters),
 * and holds the caller's rights there against what the contract needs. The handler gets the definitions of that cabinet
 * alone. Throws 401, 403 or 404.
 */
export async function allow(
  services: Services,
  request: FastifyRequest,
  contract: Contract,
  params: Readonly<Record<string, string>>,
): Promise<{ caller: Caller; definitions: Definitions }> {
  const { caller, revisions } = await findCaller(services.databases.app, credentialOf(request));
  const definitions = await services.definitions.current(revisions);
  if (contract.needs === 'nobody') {
    const page = [...definitions.forms.values()].find((form) => form.slug !== null && form.slug === params.slug);
    return { caller, definitions: page ? withinCabinet(definitions, page.cabinet) : definitions };
  }
  if (caller.login === null)
    throw new Refusal(
      401,
      caller.credential.startsWith(TOKEN)
        ? 'This token is not valid: it was revoked, has expired, or was never made.'
        : 'Sign in first. Nothing you typed is lost.',
    );
  if (caller.token) await limit(request, `token:${caller.token.id}`, MOST_OF_TOKEN, 60);
  else if (contract.method !== 'GET') requirePageToken(request, caller);
  if (contract.needs === 'account') {
    if (caller.token) throw new Refusal(403, 'A token cannot do this: it is for people who are signed in.');
    return { caller, definitions };
  }
  const cabinet = cabinetOf(definitions, params);
  requireTableOfToken(caller, definitions, params);
  needRight(caller, cabinet, contract.needs);
  return { caller, definitions: withinCabinet(definitions, cabinet) };
}

/** A cookie alone does not write: the page has to show the session's token, which another site cannot read. */
function requirePageToken(request: FastifyRequest, caller: Caller): void {
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

/** Checks that a token limited to tables is used for one of these, or for a form over one. Throws 403. */
function requireTableOfToken(
  { token }: Caller,
  definitions: Definitions,
  { table, form }: Readonly<Record<string, string>>,
): void {
  if (!token?.tables) return;
  const asked = table ?? definitions.forms.get(form ?? '')?.table;
  if (asked === undefined || !token.tables.includes(asked))
    throw new Refusal(403, `This token is limited to ${token.tables.join(', ')}.`);
}

/** What somebody wants to do with the records of a table. */
type Deed = 'add' | 'change' | 'archive' | 'erase';

/**
 * Checks that a caller may write records of a table. The records of an option list are its definition: by whatever door
 * they come, only who may build changes them. Throws 403.
 */
export function requireWriteRight(caller: Caller, table: TableDefinition, deed: Deed): void {
  if (table.kind === 'list' && !caller.memberships.get(table.cabinet)?.rights.includes('build'))
    throw new Refusal(403, `${table.label} is an option list. Only who may build forms changes its choices.`);
  needRight(caller, table.cabinet, deed);
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
