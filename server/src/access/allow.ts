import { timingSafeEqual } from 'node:crypto';
import type { Contract, Need, Right } from '@fiche/core/api';
import { say, sayLater } from '@fiche/core/languages';
import type { PublicPage } from '@fiche/core/pages';
import {
  ACTIONS,
  type Action,
  CABINET_RIGHTS,
  type CabinetRight,
  rightsAnywhere,
  rightTo,
  rightToHistory,
} from '@fiche/core/rights';
import type { TableDefinition } from '@fiche/core/tables';
import type { FastifyRequest } from 'fastify';
import type { WalPosition } from '../database/index.ts';
import { asSeenBy, type Definitions, withinCabinet } from '../definitions/index.ts';
import { limit, notFound, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { type Caller, findCaller } from './caller.ts';
import { credentialOf, TOKEN } from './credential.ts';

/** Requests that one token may make in a minute. */
const MOST_OF_TOKEN = 600;

/** Who calls, the definitions as they see them, and the public page that is called. */
interface Allowed {
  readonly caller: Caller;
  readonly definitions: Definitions;
  readonly walPosition: WalPosition | null;
  readonly page?: PublicPage;
}

/**
 * The one place that decides whether a request may go on: finds its caller, its cabinet (from the route's parameters),
 * and holds the caller's role there against what the contract needs. The handler gets the definitions of that cabinet as
 * the role sees them. Throws 401, 403 or 404.
 */
export async function allow(
  services: Services,
  request: FastifyRequest,
  contract: Contract,
  params: Readonly<Record<string, string>>,
): Promise<Allowed> {
  const { caller, revisions, walPosition } = await findCaller(services.databases, credentialOf(request));
  const all = await services.definitions.current(revisions);
  if (contract.needs === 'nobody') {
    const page = [...all.forms.values()].find((form) => form.slug !== null && form.slug === params.slug);
    return {
      caller,
      walPosition,
      definitions: page ? withinCabinet(all, page.cabinet) : all,
      ...(page?.live?.page ? { page: page.live.page } : {}),
    };
  }
  if (caller.login === null)
    throw new Refusal(
      401,
      caller.credential.startsWith(TOKEN)
        ? say('This token is not valid: it was revoked, has expired, or was never made.')
        : say('Sign in first. Nothing you typed is lost.'),
    );
  if (caller.token) await limit(request, `token:${caller.token.id}`, MOST_OF_TOKEN, 60);
  else if (contract.method !== 'GET') requirePageToken(request, caller);
  if (contract.needs === 'account') {
    if (caller.token) throw new Refusal(403, say('A token cannot do this: it is for people who are signed in.'));
    return { caller, walPosition, definitions: all };
  }
  const cabinet = cabinetOf(all, params);
  const membership = caller.memberships.get(cabinet);
  if (!membership) throw notFound(say('This cabinet'));
  if (membership.lacksFactor)
    throw new Refusal(
      403,
      say('Your role, {roleLabel}, works with a second factor only. Add one under Your account, then go on.', {
        roleLabel: membership.roleLabel,
      }),
    );
  if (caller.seesAs === cabinet && contract.method !== 'GET' && !contract.reads)
    throw new Refusal(
      403,
      say('You see the cabinet as the role {roleLabel} has it: nothing can be changed. Leave that first.', {
        roleLabel: membership.roleLabel,
      }),
    );
  requireTableOfToken(caller, all, params);
  const definitions = asSeenBy(all, cabinet, membership.role, caller.login);
  requireNeed(definitions, contract.needs, params);
  return { caller, walPosition, definitions };
}

/** A cookie alone does not write: the page has to show the session's token, which another site cannot read. */
function requirePageToken(request: FastifyRequest, caller: Caller): void {
  const sent = Buffer.from(String(request.headers['x-fiche-csrf'] ?? ''));
  const held = Buffer.from(caller.csrf);
  if (sent.length !== held.length || !timingSafeEqual(sent, held))
    throw new Refusal(403, say('This page is out of date. Reload it and try again.'));
}

function cabinetOf(definitions: Definitions, params: Readonly<Record<string, string>>): string {
  const { cabinet, table, form } = params;
  if (cabinet !== undefined && definitions.cabinets.has(cabinet)) return cabinet;
  const found =
    table !== undefined ? definitions.tables.get(table)?.cabinet : definitions.forms.get(form ?? '')?.cabinet;
  if (found !== undefined) return found;
  throw notFound(table !== undefined ? say('This table') : form !== undefined ? say('This form') : say('This cabinet'));
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
    throw new Refusal(403, say('This token is limited to {list}.', { list: token.tables.join(', ') }));
}

const isAction = (need: Need): need is Action => (ACTIONS as readonly string[]).includes(need);
const isCabinetRight = (need: Need): need is CabinetRight => (CABINET_RIGHTS as readonly string[]).includes(need);

/** Holds a role against what a route needs: at the table that it names, else anywhere in the cabinet. Throws 403 or 404. */
function requireNeed(definitions: Definitions, need: Need, params: Readonly<Record<string, string>>): void {
  if (isCabinetRight(need)) {
    needRight(definitions, need);
    return;
  }
  const { table, form } = params;
  const id = table ?? (form === undefined ? undefined : (definitions.forms.get(form)?.table ?? ''));
  if (id === undefined) {
    if (need !== 'see') needRight(definitions, need as Right);
    return;
  }
  const asked = definitions.tables.get(id);
  // What a role does not see is not there for it.
  if (!asked) throw notFound(table === undefined ? say('This form') : say('This table'));
  if (need === 'fill') requireOneOf(definitions, asked, ['see', 'add']);
  else if (need === 'history') requireHistory(definitions, asked);
  else if (isAction(need)) requireOneOf(definitions, asked, [need]);
}

function requireOneOf({ seen }: Definitions, table: TableDefinition, actions: readonly Action[]): void {
  if (seen && actions.every((action) => rightTo(seen.role, action, table) === 'no'))
    throw refused(seen.role.label, say(RIGHT_WORDS_OF_TABLE[actions[0] ?? 'see'], { label: table.label }));
}

function requireHistory({ seen }: Definitions, table: TableDefinition): void {
  if (seen && rightToHistory(seen.role, table) === 'no')
    throw refused(seen.role.label, say('read the change history of {label}', { label: table.label }));
}

const refused = (role: string, what: string): Refusal =>
  new Refusal(403, say('Your role, {role}, may not {what}. Ask an administrator for the right.', { role, what }));

/** What each right to the records of a table is called in a sentence. */
const RIGHT_WORDS_OF_TABLE: Readonly<Record<Action, string>> = {
  see: sayLater('see records of {label}'),
  add: sayLater('add records of {label}'),
  change: sayLater('change records of {label}'),
  archive: sayLater('archive records of {label}'),
  export: sayLater('export records of {label}'),
  import: sayLater('import records of {label}'),
};

/** What each right is called in a sentence. */
const RIGHT_WORDS: Readonly<Record<Right, string>> = {
  see: sayLater('see records'),
  add: sayLater('add records'),
  change: sayLater('change records'),
  archive: sayLater('archive records'),
  export: sayLater('export records'),
  import: sayLater('import files'),
  history: sayLater('read change histories'),
  ledger: sayLater('read the ledger'),
  build: sayLater('build tables and forms'),
  people: sayLater('manage people'),
  outbox: sayLater('read the outbox'),
  erase: sayLater('erase records for good'),
};

/**
 * Checks that a caller may do something with some records of a table. The records of an option list are its definition:
 * by whatever door they come, only who may build changes them. Throws 403; `requireRecord` asks about one record.
 */
export function requireWriteRight(definitions: Definitions, table: TableDefinition, action: Action): void {
  if (table.kind === 'list' && definitions.seen && !definitions.seen.role.rights.includes('build'))
    throw new Refusal(
      403,
      say('{label} is an option list. Only who may build forms changes its choices.', { label: table.label }),
    );
  requireOneOf(definitions, table, [action]);
}

/** Checks that a caller may add or change some records of a table. Throws 403. */
export const requireOneWriteRight = (definitions: Definitions, table: TableDefinition): void =>
  requireOneOf(definitions, table, ['add', 'change']);

/** Checks a right somewhere in the cabinet. Throws 403. */
export function needRight({ seen }: Definitions, right: Right): void {
  if (seen && !rightsAnywhere(seen.role, seen.whole.tables).includes(right))
    throw refused(seen.role.label, say(RIGHT_WORDS[right]));
}

/** Whether the caller whose definitions these are has a right to the cabinet as a whole. */
export const hasRight = ({ seen }: Definitions, right: CabinetRight): boolean =>
  seen?.role.rights.includes(right) === true;
