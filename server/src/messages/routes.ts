import { routes } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { FastifyInstance } from 'fastify';
import { type Caller, route } from '../access/index.ts';
import { asSeenBy, type Definitions } from '../definitions/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { type DefinitionsIn, readInbox, seeNotices } from './notices.ts';
import { readOutbox, retryMessage } from './outbox.ts';
import {
  listWatchedForms,
  listWatchedViews,
  listWatches,
  unwatchForm,
  unwatchRecord,
  unwatchView,
  watchForm,
  watchRecord,
  watchView,
} from './watching.ts';

/** The definitions of each of a caller’s cabinets, as their role there has them. */
const seenBy =
  (all: Definitions, caller: Caller): DefinitionsIn =>
  (cabinet) => {
    const here = caller.memberships.get(cabinet);
    return here && !here.lacksFactor ? asSeenBy(all, cabinet, here.role, caller.login ?? '') : undefined;
  };

/** The login of a caller who has an inbox. Throws 403 for a program. */
function personOf({ login, token }: Caller): string {
  if (token || login === null) throw new Refusal(403, say('A program has no inbox: only people watch records.'));
  return login;
}

/** The inbox, what is watched, and the outbox. */
export function messageRoutes(app: FastifyInstance, services: Services): void {
  const { databases, mail } = services;
  route(app, services, routes.listNotices, ({ caller, definitions, query }) =>
    readInbox(databases.app, caller.login ?? '', seenBy(definitions, caller), query.before),
  );
  route(app, services, routes.seeNotices, async ({ caller, body }) => {
    await seeNotices(databases.app, caller.login ?? '', body.notices);
    return {};
  });
  route(app, services, routes.listWatches, async ({ caller, definitions }) => ({
    watches: [
      ...(await listWatchedForms(databases.app, caller.login ?? '', seenBy(definitions, caller))),
      ...(await listWatchedViews(databases.app, caller.login ?? '', seenBy(definitions, caller))),
      ...(await listWatches(databases.app, caller.login ?? '', seenBy(definitions, caller))),
    ],
  }));
  route(app, services, routes.watchRecord, async ({ params, caller, definitions }) => {
    const login = personOf(caller);
    await watchRecord(databases.app, definitions.tables, params.table ?? '', Number(params.id), login);
    return {};
  });
  route(app, services, routes.unwatchRecord, async ({ params, caller }) => {
    await unwatchRecord(databases.app, params.table ?? '', Number(params.id), personOf(caller));
    return {};
  });
  route(app, services, routes.watchForm, async ({ params, caller, definitions }) => {
    await watchForm(databases.app, definitions, params.form ?? '', personOf(caller));
    return {};
  });
  route(app, services, routes.unwatchForm, async ({ params, caller }) => {
    await unwatchForm(databases.app, params.form ?? '', personOf(caller));
    return {};
  });
  route(app, services, routes.watchView, async ({ params, caller, definitions }) => {
    const login = personOf(caller);
    await watchView(databases.app, definitions, params.table ?? '', Number(params.view), login);
    return {};
  });
  route(app, services, routes.unwatchView, async ({ params, caller }) => {
    const view = Number(params.view);
    if (!Number.isSafeInteger(view)) throw notFound(say('This view'));
    await unwatchView(databases.app, view, personOf(caller));
    return {};
  });
  route(app, services, routes.listMessages, async ({ params, query, definitions }) => ({
    ...(await readOutbox(databases.app, definitions, params.cabinet ?? '', query)),
    sends: mail.server !== null,
  }));
  route(app, services, routes.retryMessage, async ({ params }) => {
    await retryMessage(databases.owner, mail, params.cabinet ?? '', Number(params.message));
    return {};
  });
}
