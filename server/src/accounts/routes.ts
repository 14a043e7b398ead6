import { routes } from '@fiche/core/api';
import type { FastifyInstance } from 'fastify';
import { type Caller, findCaller, route, SESSION_COOKIE } from '../access/index.ts';
import { forgive, limit, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { passwordIsRight } from './password.ts';
import { SAMPLE_ACCOUNTS, SAMPLE_PASSWORD } from './samples.ts';
import { closeSession, findPasswordHash, openSession } from './store.ts';

const TRIES = 8;
const WINDOW_SECONDS = 300;

export function accountRoutes(app: FastifyInstance, services: Services): void {
  const view = (caller: Caller) => ({
    login: caller.login,
    displayName: caller.displayName,
    csrf: caller.csrf,
    cabinets: [...caller.memberships.values()].map(({ cabinet, label, role, rights }) => ({
      id: cabinet,
      label,
      role,
      rights: [...rights],
    })),
    samples: services.sample
      ? SAMPLE_ACCOUNTS.map((one) => ({ login: one.login, about: one.about, password: SAMPLE_PASSWORD }))
      : [],
  });

  route(app, services, routes.signIn, async ({ body, reply, request }) => {
    const login = body.login.trim().toLowerCase();
    const tries = `sign-in:${login}:${request.ip}`;
    await limit(services.databases.app, tries, TRIES, WINDOW_SECONDS);
    const stored = await findPasswordHash(services.databases.app, login);
    if (!(await passwordIsRight(stored, body.password)))
      throw new Refusal(401, 'The login or the password is not right. Check both and try again.');
    await forgive(services.databases.app, tries);
    const token = await openSession(services.databases.app, login);
    reply.setCookie(SESSION_COOKIE, token, {
      path: '/',
      httpOnly: true,
      sameSite: 'strict',
      secure: services.secureCookies,
    });
    return view((await findCaller(services.databases.app, token)).caller);
  });

  route(app, services, routes.whoAmI, async ({ caller }) => view(caller));

  route(app, services, routes.signOut, async ({ request, reply }) => {
    await closeSession(services.databases.app, request.cookies[SESSION_COOKIE] ?? '');
    reply.clearCookie(SESSION_COOKIE, { path: '/' });
    return {};
  });
}
