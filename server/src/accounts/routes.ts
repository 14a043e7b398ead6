import { routes } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { NO_ROLE, rightsAnywhere } from '@fiche/core/rights';
import type { FastifyInstance } from 'fastify';
import { type Caller, findCaller, route, SESSION_COOKIE, tokenHash } from '../access/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { announceEnd } from '../events/index.ts';
import { addressOf, limit, Refusal } from '../http/index.ts';
import { officeLanguageOf } from '../languages/index.ts';
import type { Services } from '../services.ts';
import { makeFirstAdministrator } from './firstAdministrator.ts';
import { ownAccountRoutes } from './ownAccount.ts';
import { passwordIsRight } from './password.ts';
import { accountOfLink, setPasswordByLink } from './passwordLink.ts';
import { peopleRoutes } from './peopleRoutes.ts';
import { SAMPLE_ACCOUNTS, SAMPLE_PASSWORD } from './samples.ts';
import { requireSecondFactor } from './secondFactor.ts';
import { seeAs, stopSeeingAs } from './seenAs.ts';
import { closeSession, openSession } from './sessions.ts';
import { countSignIn } from './signInTries.ts';
import { findPasswordHash } from './store.ts';

/** Keys for the first administrator that one address may try in five minutes. */
const FIRST_TRIES = 20;
/** Links that set a password that one address may try in five minutes: a new password may be refused a few times. */
const LINK_TRIES = 40;

export function accountRoutes(app: FastifyInstance, services: Services): void {
  const view = (caller: Caller, { office, officeIsSet, cabinets, roles, tables }: Definitions) => ({
    office,
    officeIsSet,
    login: caller.login,
    displayName: caller.displayName,
    csrf: caller.csrf,
    cabinets: [...caller.memberships.values()].map(({ cabinet, label, role, roleLabel, lacksFactor }) => ({
      id: cabinet,
      label,
      role: roleLabel,
      rights: rightsAnywhere(
        roles.get(cabinet)?.get(role) ?? NO_ROLE,
        new Map([...tables].filter(([, table]) => table.cabinet === cabinet)),
      ),
      archived: cabinets.get(cabinet)?.archived === true,
      lacksFactor,
      seenAs: caller.seesAs === cabinet,
    })),
    samples: services.sample
      ? SAMPLE_ACCOUNTS.map((one) => ({ login: one.login, about: one.about, password: SAMPLE_PASSWORD }))
      : [],
  });

  route(app, services, routes.signIn, async ({ body, reply, request, definitions }) => {
    const login = body.login.trim().toLowerCase();
    const wasRight = await countSignIn(request, services.databases.app, login);
    const stored = await findPasswordHash(services.databases.owner, login);
    // Everybody knows the sample office's password: elsewhere it opens nothing.
    const known = !services.sample && body.password === SAMPLE_PASSWORD;
    if (!(await passwordIsRight(stored, body.password)) || known)
      throw new Refusal(401, say('The login or the password is not right. Check both and try again.'));
    await requireSecondFactor(services.databases.owner, login, body.code);
    await wasRight();
    const agent = String(request.headers['user-agent'] ?? '');
    const token = await openSession(services.databases.owner, login, { address: request.ip, agent });
    reply.setCookie(SESSION_COOKIE, token, {
      path: '/',
      httpOnly: true,
      sameSite: 'strict',
      secure: services.secureCookies,
    });
    return view((await findCaller(services.databases, tokenHash(token))).caller, definitions);
  });

  route(app, services, routes.makeFirstAdministrator, async ({ body, request }) => {
    await limit(request, `first:${addressOf(request.ip)}`, FIRST_TRIES, 300);
    await makeFirstAdministrator(services.databases.owner, body);
    return {};
  });

  route(app, services, routes.readPasswordLink, async ({ body, request }) => {
    await limit(request, `link:${addressOf(request.ip)}`, LINK_TRIES, 300);
    return accountOfLink(services.databases.owner, body.token);
  });
  route(app, services, routes.setPassword, async ({ body, request }) => {
    await limit(request, `link:${addressOf(request.ip)}`, LINK_TRIES, 300);
    await setPasswordByLink(services.databases.owner, body.token, body.password);
    return {};
  });
  ownAccountRoutes(app, services);
  peopleRoutes(app, services);

  route(app, services, routes.seeAs, async ({ caller, definitions, body }) => {
    await seeAs(services.databases.owner, caller, definitions, body);
    return {};
  });
  route(app, services, routes.stopSeeingAs, async ({ caller }) => {
    await stopSeeingAs(services.databases.owner, caller);
    return {};
  });
  route(app, services, routes.officeLanguage, async ({ request }) => {
    const { languages } = services;
    const language = officeLanguageOf(languages, request);
    return { language, languages: [...languages.names], texts: { ...languages.texts.get(language) } };
  });
  route(app, services, routes.whoAmI, async ({ caller, definitions }) => view(caller, definitions));

  route(app, services, routes.signOut, async ({ request, reply }) => {
    const token = request.cookies[SESSION_COOKIE] ?? '';
    await closeSession(services.databases.app, token);
    await announceEnd(services.databases.app, tokenHash(token));
    reply.clearCookie(SESSION_COOKIE, { path: '/' });
    return {};
  });
}
