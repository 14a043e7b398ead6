import { routes } from '@fiche/core/api';
import type { FastifyInstance } from 'fastify';
import { type Caller, route } from '../access/index.ts';
import { asActor, type Transaction } from '../database/index.ts';
import { touchCabinet } from '../definitions/index.ts';
import type { Services } from '../services.ts';
import {
  addPerson,
  changePerson,
  invitePerson,
  listPeople,
  makeLinkFor,
  removeFactorOf,
  removePerson,
} from './managePeople.ts';
import { listTokens, makeToken, revokeToken } from './tokens.ts';

/** The people of a cabinet: who is in it, as what, and their accounts; and the tokens of programs. */
export function peopleRoutes(app: FastifyInstance, services: Services): void {
  const { owner } = services.databases;
  /** Runs work on the people of a cabinet as the caller. Pages that are open read the cabinet anew. */
  const manage = <T>(
    { params, caller }: { params: Readonly<Record<string, string>>; caller: Caller },
    work: (transaction: Transaction, manager: { caller: Caller; cabinet: string }) => Promise<T>,
  ): Promise<T> => {
    const cabinet = params.cabinet ?? '';
    const actor = { name: caller.login ?? '', through: { kind: 'tables', label: 'People' } } as const;
    return asActor(owner, actor, async (transaction) => {
      await touchCabinet(transaction, cabinet);
      return work(transaction, { caller, cabinet });
    });
  };

  route(app, services, routes.listPeople, ({ params, caller }) => listPeople(owner, caller, params.cabinet ?? ''));
  route(app, services, routes.invitePerson, (call) =>
    manage(call, (transaction, manager) => invitePerson(transaction, manager, call.body)),
  );
  route(app, services, routes.addPerson, async (call) => {
    await manage(call, (transaction, manager) =>
      addPerson(transaction, manager, call.params.login ?? '', call.body.role),
    );
    return {};
  });
  route(app, services, routes.changePerson, async (call) => {
    await manage(call, (transaction, manager) =>
      changePerson(transaction, manager, call.params.login ?? '', call.body),
    );
    return {};
  });
  route(app, services, routes.removePerson, async (call) => {
    await manage(call, (transaction, manager) => removePerson(transaction, manager, call.params.login ?? ''));
    return {};
  });
  route(app, services, routes.listTokens, async ({ params }) => ({
    tokens: await listTokens(owner, params.cabinet ?? ''),
  }));
  route(app, services, routes.makeToken, (call) =>
    manage(call, (transaction, manager) => makeToken(transaction, manager, call.definitions, call.body)),
  );
  route(app, services, routes.revokeToken, async (call) => {
    await manage(call, (transaction, manager) => revokeToken(transaction, manager, Number(call.params.token)));
    return {};
  });
  route(app, services, routes.removeTheirSecondFactor, async (call) => {
    await manage(call, (transaction, manager) => removeFactorOf(transaction, manager, call.params.login ?? ''));
    return {};
  });
  route(app, services, routes.makePasswordLink, (call) =>
    manage(call, (transaction, manager) => makeLinkFor(transaction, manager, call.params.login ?? '')),
  );
}
