import { routes } from '@fiche/core/api';
import { say, sayLater } from '@fiche/core/languages';
import { roleProblems } from '@fiche/core/rights';
import type { FastifyInstance } from 'fastify';
import { type Call, route } from '../access/index.ts';
import { asActor, type Transaction } from '../database/index.ts';
import { touchCabinet } from '../definitions/index.ts';
import { notFound, unacceptable } from '../http/index.ts';
import type { Services } from '../services.ts';
import {
  addPerson,
  changePerson,
  invitePerson,
  listPeople,
  type Manager,
  makeLinkFor,
  removeFactorOf,
  removePerson,
} from './managePeople.ts';
import { changeRole, createRole, deleteRole, listRoles } from './manageRoles.ts';
import { replayRole } from './replayRole.ts';
import { listTokens, makeToken, revokeToken } from './tokens.ts';

/** The people of a cabinet: who is in it, as what, and their accounts; and the tokens of programs. */
export function peopleRoutes(app: FastifyInstance, services: Services): void {
  const { owner } = services.databases;
  /** Runs work on the people of a cabinet as the caller. Pages that are open read the cabinet anew. */
  const manage = <T>(
    { params, caller, definitions }: Pick<Call<unknown, unknown>, 'params' | 'caller' | 'definitions'>,
    work: (transaction: Transaction, manager: Manager) => Promise<T>,
  ): Promise<T> => {
    const cabinet = params.cabinet ?? '';
    const actor = { name: caller.login ?? '', through: { kind: 'tables', label: sayLater('People') } } as const;
    return asActor(owner, actor, async (transaction) => {
      await touchCabinet(transaction, cabinet);
      return work(transaction, { caller, cabinet, definitions });
    });
  };

  route(app, services, routes.listPeople, ({ params, caller, definitions }) =>
    listPeople(owner, { caller, definitions, cabinet: params.cabinet ?? '' }),
  );
  route(app, services, routes.listRoles, async ({ params, caller, definitions }) => ({
    roles: await listRoles(owner, { caller, definitions, cabinet: params.cabinet ?? '' }),
  }));
  route(app, services, routes.createRole, (call) =>
    manage(call, (transaction, manager) => createRole(transaction, manager, call.body)),
  );
  route(app, services, routes.changeRole, (call) =>
    manage(call, (transaction, manager) => changeRole(transaction, manager, call.params.role ?? '', call.body)),
  );
  route(app, services, routes.replayRole, ({ params: { cabinet = '', role = '' }, definitions, body }) => {
    if (!definitions.roles.get(cabinet)?.has(role)) throw notFound(say('This role'));
    const problems = roleProblems(body.definition, (definitions.seen?.whole ?? definitions).tables);
    if (problems.length > 0) throw unacceptable(problems);
    return replayRole(services.databases.work.app, definitions, cabinet, role, body.definition);
  });
  route(app, services, routes.deleteRole, async (call) => {
    await manage(call, (transaction, manager) => deleteRole(transaction, manager, call.params.role ?? ''));
    return {};
  });
  route(app, services, routes.invitePerson, (call) =>
    manage(call, (transaction, manager) => invitePerson(transaction, manager, call.body, services.mail)),
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
    manage(call, (transaction, manager) => makeLinkFor(transaction, manager, call.params.login ?? '', services.mail)),
  );
}
