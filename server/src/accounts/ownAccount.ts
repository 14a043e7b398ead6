import { routes } from '@fiche/core/api';
import { say, sayLater } from '@fiche/core/languages';
import type { FastifyInstance, FastifyRequest } from 'fastify';
import { route, SESSION_COOKIE, tokenHash } from '../access/index.ts';
import { asActor } from '../database/index.ts';
import { notFound, unacceptable } from '../http/index.ts';
import { chooseMailed, mailedNotices } from '../messages/index.ts';
import type { Services } from '../services.ts';
import { passwordIsRight, passwordProblem } from './password.ts';
import { changePassword } from './passwordLink.ts';
import { beginSecondFactor, confirmSecondFactor, removeSecondFactor, secondFactorOf } from './secondFactor.ts';
import { endSessions, sessionsOf } from './sessions.ts';
import { countSignIn } from './signInTries.ts';
import { findPasswordHash } from './store.ts';

/** One’s own account: name, e-mail, password, and where one is signed in. */
export function ownAccountRoutes(app: FastifyInstance, services: Services): void {
  const { owner } = services.databases;
  const actorOf = (login: string | null) =>
    ({ name: login ?? '', through: { kind: 'tables', label: sayLater('Account') } }) as const;

  /** Checks the password again, because the page may have been left open; tries are limited. Throws 422 and 429. */
  const requirePassword = async (
    request: FastifyRequest,
    login: string,
    password: string,
    path: string,
  ): Promise<void> => {
    const wasRight = await countSignIn(request, services.databases.app, login);
    if (!(await passwordIsRight(await findPasswordHash(owner, login), password)))
      throw unacceptable([{ path, rule: 'password', message: say('This is not your present password.') }]);
    await wasRight();
  };

  route(app, services, routes.ownAccount, async ({ caller, request }) => {
    const login = caller.login ?? '';
    const account = await owner('fiche.account').where({ login }).first('display_name', 'email');
    const own = tokenHash(request.cookies[SESSION_COOKIE] ?? '');
    return {
      login,
      displayName: String(account?.display_name ?? login),
      email: String(account?.email ?? ''),
      secondFactor: await secondFactorOf(owner, login),
      mailed: await mailedNotices(owner, login),
      sessions: (await sessionsOf(owner, login)).map(({ hash, ...session }) => ({ ...session, current: hash === own })),
    };
  });

  route(app, services, routes.changeOwnAccount, async ({ body, caller }) => {
    const columns = {
      ...(body.displayName === undefined ? {} : { display_name: body.displayName }),
      ...(body.email === undefined ? {} : { email: body.email === '' ? null : body.email }),
    };
    if (Object.keys(columns).length > 0)
      await asActor(owner, actorOf(caller.login), (transaction) =>
        transaction('fiche.account').where({ login: caller.login }).update(columns),
      );
    if (body.mailed) await chooseMailed(owner, caller.login ?? '', body.mailed);
    return {};
  });

  route(app, services, routes.changeOwnPassword, async ({ body, caller, request }) => {
    const login = caller.login ?? '';
    await requirePassword(request, login, body.present, 'present');
    const wrong = passwordProblem(body.password, login);
    if (wrong !== undefined) throw unacceptable([{ path: 'password', rule: 'password', message: wrong }]);
    await asActor(owner, actorOf(login), async (transaction) => {
      await changePassword(transaction, login, body.password);
      await transaction('fiche.password_link').where({ login }).delete();
      await endSessions(transaction, login, { butHash: tokenHash(request.cookies[SESSION_COOKIE] ?? '') });
    });
    return {};
  });

  route(app, services, routes.beginSecondFactor, async ({ body, caller, request }) => {
    const login = caller.login ?? '';
    await requirePassword(request, login, body.password, 'password');
    return asActor(owner, actorOf(login), (transaction) => beginSecondFactor(transaction, login));
  });
  route(app, services, routes.confirmSecondFactor, async ({ body, caller, request }) => {
    const login = caller.login ?? '';
    const wasRight = await countSignIn(request, services.databases.app, login);
    const recoveryCodes = await asActor(owner, actorOf(login), (transaction) =>
      confirmSecondFactor(transaction, login, body.code),
    );
    await wasRight();
    return { recoveryCodes };
  });
  route(app, services, routes.removeSecondFactor, async ({ body, caller, request }) => {
    const login = caller.login ?? '';
    await requirePassword(request, login, body.password, 'password');
    await asActor(owner, actorOf(login), (transaction) => removeSecondFactor(transaction, login));
    return {};
  });

  route(app, services, routes.endOwnSession, async ({ params, caller }) => {
    const id = Number(params.session);
    if (!Number.isSafeInteger(id) || (await endSessions(owner, caller.login ?? '', { id })) === 0)
      throw notFound(say('This session'));
    return {};
  });

  route(app, services, routes.endOtherSessions, async ({ caller, request }) => {
    await endSessions(owner, caller.login ?? '', { butHash: tokenHash(request.cookies[SESSION_COOKIE] ?? '') });
    return {};
  });
}
