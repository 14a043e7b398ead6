import { createHash, timingSafeEqual } from 'node:crypto';
import { routes } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { FastifyInstance, FastifyRequest } from 'fastify';
import { openRoute, route } from '../access/index.ts';
import { observeQueries } from '../database/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { currentRequest } from '../tracing/index.ts';
import { createMetrics } from './metrics.ts';
import { operationOf } from './operation.ts';
import { withoutValues } from './withoutValues.ts';
import { exposeToPrimary, metricsOfAllProcesses } from './workerMetrics.ts';

const hashed = (text: string): Buffer => createHash('sha256').update(text).digest();

/** What stands in a request that has come by a proxy. */
const PROXY_HEADERS = ['x-forwarded-for', 'forwarded', 'via'];

/** Whether a request comes from a program on this machine itself, not through a proxy on it. */
const isLocal = ({ raw, headers }: FastifyRequest): boolean =>
  ['127.0.0.1', '::1', '::ffff:127.0.0.1'].includes(raw.socket.remoteAddress ?? '') &&
  PROXY_HEADERS.every((name) => headers[name] === undefined);

/** Lets through programs on this machine, and whoever shows the token for monitoring. Throws 404, as if there was nothing. */
function requireMonitor(request: FastifyRequest, token: string | null): void {
  const shown = /^Bearer (.+)$/.exec(request.headers.authorization ?? '')?.[1];
  if (token !== null && shown !== undefined && timingSafeEqual(hashed(shown), hashed(token))) return;
  if (!isLocal(request)) throw notFound(say('This address'));
}

/** Whether the server is alive, whether it takes requests, and what it tells whoever monitors it. */
export function monitoringRoutes(app: FastifyInstance, services: Services): void {
  const { databases, monitoring } = services;
  openRoute(app, routes.health, async () => ({ status: 'ok' as const }));
  // On a connection of its own, and without asking who calls: it answers whatever the others wait for.
  openRoute(app, routes.ready, async () => {
    if (monitoring.draining) throw new Refusal(503, say('This server is about to stop.'), [], { retryAfter: 1 });
    await databases.health.raw('SELECT 1');
    return { status: 'ready' as const };
  });

  // A connection that is kept would have to be waited for.
  app.addHook('onSend', async (_request, reply) => {
    if (monitoring.draining) reply.header('connection', 'close');
  });

  route(app, services, routes.getOperation, ({ params, definitions }) =>
    operationOf(databases, {
      cabinet: params.cabinet ?? '',
      tables: [...definitions.tables.keys()],
      dataFolder: services.dataFolder,
    }),
  );

  const metrics = createMetrics(databases);
  exposeToPrimary(metrics.registry);
  app.get('/api/metrics', async (request, reply) => {
    requireMonitor(request, monitoring.metricsToken);
    reply.type(metrics.registry.contentType);
    return metricsOfAllProcesses(metrics.registry);
  });
  app.addHook('onResponse', async (request, reply) => {
    const route = request.routeOptions.url ?? 'none';
    metrics.observeRequest(request.method, route, reply.statusCode, reply.elapsedTime / 1_000);
  });
  const end = observeQueries(databases, ({ sql, milliseconds }) => {
    metrics.observeQuery(milliseconds / 1_000);
    if (monitoring.slowAfter === null || milliseconds < monitoring.slowAfter) return;
    const { id, route } = currentRequest() ?? { id: null, route: 'background' };
    app.log.warn({ request: id, route, milliseconds: Math.round(milliseconds), sql: withoutValues(sql) }, 'slow query');
  });
  app.addHook('onClose', async () => end());
}
