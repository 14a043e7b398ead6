import type { Contract } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { FastifyInstance, FastifyReply, FastifyRequest } from 'fastify';
import type { z } from 'zod';
import type { WalPosition } from '../database/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { notFound, unacceptable } from '../http/index.ts';
import { languageFor, readingOffice, readingPage } from '../languages/index.ts';
import type { Services } from '../services.ts';
import { withinRequest } from '../tracing/index.ts';
import { allow } from './allow.ts';
import type { Caller } from './caller.ts';
import { unsoundPart } from './soundness.ts';

export interface Call<Q, B> {
  readonly params: Readonly<Record<string, string>>;
  readonly query: Q;
  readonly body: B;
  readonly caller: Caller;
  readonly definitions: Definitions;
  /** How far the primary was when the request came: what is read from a standby has to be as far. Null without standbys. */
  readonly walPosition: WalPosition | null;
  readonly request: FastifyRequest;
  readonly reply: FastifyReply;
}

const registered = new WeakMap<FastifyInstance, Contract[]>();

/** The contracts that a server answers, for OpenAPI and for the test of every route with every role. */
export const contractsOf = (app: FastifyInstance): readonly Contract[] => registered.get(app) ?? [];

/**
 * Answers one contract. In this order, before the handler: who calls, whether they may, whether the request has the
 * contract's shape. In tests the answer is held to the contract, too.
 */
export function route<Q extends z.ZodType, B extends z.ZodType, A extends z.ZodType>(
  app: FastifyInstance,
  services: Services,
  one: Contract<Q, B, A>,
  handler: (call: Call<z.infer<Q>, z.infer<B>>) => Promise<z.infer<A>>,
): void {
  registered.set(app, [...contractsOf(app), one as unknown as Contract]);
  app.route({
    method: one.method,
    url: one.path.replaceAll(/\{(\w+)\}/g, ':$1'),
    ...(one.compressed ? { compress: { threshold: 1_024 } } : {}),
    handler: (request, reply) => {
      const answerIt = async (): Promise<unknown> => {
        const params = request.params as Record<string, string>;
        checkReadable(params, request.query, request.body);
        const { caller, definitions, walPosition, page } = await allow(services, request, one, params);
        const query = read(one.query, request.query, '');
        const body = read(one.body, request.body, '');
        const handle = () => handler({ params, query, body, caller, definitions, walPosition, request, reply });
        const answer = page
          ? await readingPage(page, languageFor(page, wantedLanguage(request)), handle)
          : await handle();
        return services.checkAnswers ? one.answer.parse(answer) : answer;
      };
      // Whatever refuses it says so in the language of the screens.
      return withinRequest({ id: request.id, route: `${one.method} ${one.path}` }, () =>
        readingOffice(services.languages, request, answerIt),
      );
    },
  });
}

/** The languages in which the caller of a page wants it: as its address names it, else as the browser says. */
function wantedLanguage({ query, headers }: FastifyRequest): string | undefined {
  const { lang } = query as { lang?: unknown };
  return typeof lang === 'string' && lang !== '' ? lang : headers['accept-language'];
}

/** Refuses what no handler can read: unstorable text, bottomless nesting, and an id of a record that is no number. */
function checkReadable(params: Readonly<Record<string, string>>, query: unknown, body: unknown): void {
  if (unsoundPart(params)) throw notFound(say('This address'));
  // PostgreSQL's bigint, in so many digits that a double holds it exactly.
  if (params.id !== undefined && !/^[1-9]\d{0,14}$/.test(params.id)) throw notFound(say('This record'));
  const wrong = unsoundPart(query) ?? (isStream(body) ? undefined : unsoundPart(body));
  if (wrong) throw unacceptable([wrong]);
}

const isStream = (body: unknown): boolean =>
  typeof (body as { pipe?: unknown } | undefined)?.pipe === 'function' || Buffer.isBuffer(body);

/**
 * Answers a contract that needs nobody and asks nothing, not even who calls: it must not wait for the connections that
 * requests share.
 */
export function openRoute<A extends z.ZodType>(
  app: FastifyInstance,
  one: Contract<z.ZodType, z.ZodType, A>,
  handler: () => Promise<z.infer<A>>,
): void {
  registered.set(app, [...contractsOf(app), one as unknown as Contract]);
  app.route({
    method: one.method,
    url: one.path,
    handler: (request) => withinRequest({ id: request.id, route: `${one.method} ${one.path}` }, handler),
  });
}

function read<T extends z.ZodType>(schema: T, sent: unknown, path: string): z.infer<T> {
  const result = schema.safeParse(sent);
  if (result.success) return result.data;
  throw unacceptable(
    result.error.issues.slice(0, 20).map((issue) => ({
      path: [path, ...issue.path].filter((step) => step !== '').join('.'),
      rule: 'form',
      message: issue.code === 'custom' ? say(issue.message) : `${say(issue.message)}.`.replace(/\.\.$/, '.'),
    })),
  );
}
