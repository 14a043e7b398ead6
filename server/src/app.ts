import { randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import compress from '@fastify/compress';
import cookie from '@fastify/cookie';
import helmet from '@fastify/helmet';
import serveStatic from '@fastify/static';
import { say } from '@fiche/core/languages';
import Fastify, { type FastifyInstance, type FastifyReply, type FastifyServerOptions } from 'fastify';
import { accountRoutes } from './accounts/index.ts';
import { answerRoutes } from './answers/index.ts';
import { serveApiDocs } from './apiDocs.ts';
import { cabinetRoutes } from './cabinets/index.ts';
import { calendarRoutes } from './calendar/index.ts';
import { changeRoutes } from './changes/index.ts';
import { chartRoutes } from './charts/index.ts';
import { NobodyWaits } from './database/index.ts';
import { entryRoutes } from './entries/index.ts';
import { eventRoutes } from './events/index.ts';
import { exportRoutes } from './exports/index.ts';
import { fileRoutes } from './files/index.ts';
import { formRoutes } from './forms/index.ts';
import { historyRoutes } from './history/index.ts';
import { homeRoutes } from './home/index.ts';
import {
  type ConnectionLimits,
  limitConnections,
  problemDocument,
  Refusal,
  registerLimits,
  retryAfter,
} from './http/index.ts';
import { importRoutes } from './imports/index.ts';
import { mergingRoutes } from './merging/index.ts';
import { messageRoutes } from './messages/index.ts';
import { monitoringRoutes } from './monitoring/index.ts';
import { openApi } from './openApi.ts';
import { pastRoutes } from './past/index.ts';
import { printRoutes } from './print/index.ts';
import { pageAddress, publicRoutes, sitesOf } from './public/index.ts';
import { putBackRoutes } from './puttingBack/index.ts';
import { recordRoutes } from './records/index.ts';
import { rippleRoutes } from './ripples/index.ts';
import type { Services } from './services.ts';
import { tableRoutes } from './tables/index.ts';
import { requestId } from './tracing/index.ts';
import { useRoutes } from './uses/index.ts';
import { viewRoutes } from './views/index.ts';

const BODY_LIMIT = 2 * 1024 * 1024;
const CONNECTIONS: ConnectionLimits = { most: 4_000, perAddress: 400 };

/** Trusts the nearest proxies alone: what a caller writes into X-Forwarded-For stands further away and changes nothing. */
const trustedHops =
  (proxies: number) =>
  (_address: string, hop: number): boolean =>
    hop < proxies;

interface AppOptions {
  readonly services: Services;
  /** The folder of the built web application; without it only the HTTP interface answers. */
  readonly webRoot?: string;
  readonly logger?: FastifyServerOptions['logger'];
  /** How many proxies in front are trusted to say the caller's address. */
  readonly proxies?: number;
  readonly connections?: ConnectionLimits;
}

/** The server, ready to listen: every route, its checks, and the pages. */
export async function buildApp({
  services,
  webRoot,
  logger = false,
  proxies = 0,
  connections = CONNECTIONS,
}: AppOptions): Promise<FastifyInstance> {
  const app = Fastify({
    logger,
    trustProxy: proxies > 0 ? trustedHops(proxies) : false,
    bodyLimit: BODY_LIMIT,
    // Only a proxy that is trusted says which request this is.
    genReqId: ({ headers }) => requestId(proxies > 0 ? headers['x-request-id'] : undefined),
    routerOptions: { maxParamLength: 200 },
  });
  limitConnections(app, proxies > 0 ? { ...connections, perAddress: connections.most } : connections);
  await app.register(cookie);
  await registerLimits(app, services.databases.app);
  await app.register(helmet, {
    contentSecurityPolicy: false,
    crossOriginEmbedderPolicy: false,
    strictTransportSecurity: services.secureCookies,
  });
  app.setErrorHandler(sendProblem);
  // Only what a contract asks for: answers of the office travel a short way.
  await app.register(compress, { global: false, encodings: ['gzip'] });
  app.addHook('onRequest', async (request, reply) => {
    reply.header('x-request-id', request.id);
    if (!request.url.startsWith('/assets/')) reply.header('cache-control', 'no-store');
  });
  // A JSON content type without a body is how DELETE and some POST arrive.
  app.removeContentTypeParser('application/json');
  app.addContentTypeParser('application/json', { parseAs: 'string' }, (_request, body, done) => {
    if (body === '') return done(null, undefined);
    try {
      done(null, JSON.parse(String(body)));
    } catch {
      done(new Refusal(400, say('The body is not JSON. Send a JSON object.')), undefined);
    }
  });

  monitoringRoutes(app, services);
  accountRoutes(app, services);
  cabinetRoutes(app, services);
  tableRoutes(app, services);
  recordRoutes(app, services);
  pastRoutes(app, services);
  putBackRoutes(app, services);
  rippleRoutes(app, services);
  viewRoutes(app, services);
  chartRoutes(app, services);
  calendarRoutes(app, services);
  homeRoutes(app, services);
  useRoutes(app, services);
  changeRoutes(app, services);
  mergingRoutes(app, services);
  formRoutes(app, services);
  entryRoutes(app, services);
  historyRoutes(app, services);
  eventRoutes(app, services);
  fileRoutes(app, services);
  exportRoutes(app, services);
  printRoutes(app, services);
  importRoutes(app, services);
  messageRoutes(app, services);
  publicRoutes(app, services);
  answerRoutes(app, services);
  const description = openApi(app);
  app.get('/api/openapi.json', async () => description);
  await serveApiDocs(app, description);

  if (webRoot !== undefined && existsSync(webRoot)) await servePages(app, webRoot);
  app.setNotFoundHandler(async (request, reply) => {
    if (webRoot !== undefined && request.method === 'GET' && !request.url.startsWith('/api/'))
      return request.url.startsWith('/p/')
        ? sendPage(reply, webRoot, 'public.html', {
            frames: ["'self'", ...(await sitesOf(services.databases.app, request.url))],
            asked: pageAddress(request.url),
          })
        : sendPage(reply, webRoot, 'index.html', { frames: ["'none'"] });
    return reply
      .status(404)
      .type('application/problem+json')
      .send(problemDocument(404, say('There is nothing at this address.'), []));
  });
  return app;
}

async function servePages(app: FastifyInstance, webRoot: string): Promise<void> {
  await app.register(serveStatic, {
    root: join(webRoot, 'assets'),
    prefix: '/assets/',
    index: false,
    preCompressed: true,
    cacheControl: false,
    setHeaders: (response) => {
      response.setHeader('cache-control', 'public, max-age=31536000, immutable');
    },
  });
}

const pages = new Map<string, Promise<string>>();

/** A page with a nonce for the styles that the interface makes while it runs; scripts come from our own files only. */
async function sendPage(
  reply: FastifyReply,
  webRoot: string,
  file: string,
  { frames, asked = '' }: { readonly frames: readonly string[]; readonly asked?: string },
): Promise<FastifyReply> {
  const path = join(webRoot, file);
  const page = pages.get(path) ?? readFile(path, 'utf8');
  pages.set(path, page);
  const nonce = randomBytes(16).toString('base64');
  const policy = `default-src 'self'; script-src 'self'; style-src 'self' 'nonce-${nonce}'; img-src 'self' data: blob:; connect-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors ${frames.join(' ')}`;
  // The policy says who may frame the page; the older header knows no sites.
  if (frames.length > 1) reply.removeHeader('x-frame-options');
  return reply
    .header('content-security-policy', policy)
    .type('text/html; charset=utf-8')
    .send((await page).replaceAll('__NONCE__', nonce).replaceAll('__PAGE__', asked));
}

interface Failure extends Error {
  readonly statusCode?: number;
  readonly code?: string;
}

async function sendProblem(
  error: Failure,
  request: { readonly id: string; readonly log: { error(object: object, message: string): void } },
  reply: FastifyReply,
): Promise<FastifyReply> {
  reply.type('application/problem+json');
  if (error instanceof Refusal) {
    if (typeof error.more.retryAfter === 'number') reply.header('retry-after', error.more.retryAfter);
    return reply.status(error.status).send(problemDocument(error.status, error.message, error.errors, error.more));
  }
  if (error instanceof NobodyWaits) return reply.status(503).send(problemDocument(503, error.message, []));
  const status = error.statusCode ?? 500;
  if (status === 413)
    return reply.status(413).send(problemDocument(413, say('This is too large: at most 2 MB fit in one request.'), []));
  if (status === 415)
    return reply.status(415).send(problemDocument(415, say('Send JSON, with content-type application/json.'), []));
  if (status < 500)
    return reply
      .status(status)
      .send(problemDocument(status, say('The request cannot be read. Check its form and send it again.'), []));
  if (error.code === '55P03')
    return reply.status(409).send(problemDocument(409, say('This table is busy just now. Try again in a moment.'), []));
  // A data exception of PostgreSQL: a value that its column cannot take, such as a number out of range.
  if (error.code?.length === 5 && error.code.startsWith('22'))
    return reply
      .status(422)
      .send(
        problemDocument(422, say('A value is out of range or has the wrong form. Correct it and send it again.'), []),
      );
  const wait = retryAfter(error);
  if (wait !== undefined)
    return reply
      .header('retry-after', wait)
      .status(503)
      .send(
        problemDocument(
          503,
          say('The database is busy or not there just now. Nothing was lost; try again in a moment.'),
          [],
        ),
      );
  // Never the message: it can hold values.
  request.log.error(
    { request: request.id, code: error.code, name: error.name, stack: error.stack?.split('\n').slice(1, 6).join('\n') },
    'request failed',
  );
  return reply
    .status(500)
    .send(
      problemDocument(
        500,
        say(
          'Something failed on the server. Nothing was written; try again. If it fails again, tell your administrator this number: {id}',
          { id: request.id },
        ),
        [],
        { request: request.id },
      ),
    );
}
