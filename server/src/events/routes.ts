import { PassThrough } from 'node:stream';
import { routes } from '@fiche/core/api';
import { relation } from '@fiche/core/queries';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { Listener } from './listen.ts';

/** Records that people can have open at one server at once. */
const MOST_OPEN = 2_000;
/** A word now and then keeps proxies from closing a silent connection. */
const HEARTBEAT_MS = 25_000;

export function eventRoutes(app: FastifyInstance, services: Services): void {
  const database = services.databases.app;
  const listener = new Listener(database);
  const open = new Set<PassThrough>();
  app.addHook('preClose', async () => {
    for (const stream of open) stream.end();
    await listener.close();
  });

  route(app, services, routes.recordEvents, async ({ params, query, definitions, request, reply }) => {
    const table = definitions.tables.get(params.table ?? '');
    const id = Number(params.id);
    if (!table || !Number.isSafeInteger(id)) throw notFound('This record');
    if (open.size >= MOST_OPEN) throw new Refusal(429, 'Too many records are open at this server.');
    const stream = new PassThrough();
    const say = (by: string): void => {
      stream.write(`data: ${JSON.stringify({ by })}\n\n`);
    };
    const stop = await listener.on(table.id, id, ({ by }) => say(by));
    open.add(stream);
    const beat = setInterval(() => stream.write(':\n\n'), HEARTBEAT_MS);
    const close = (): void => {
      clearInterval(beat);
      stop();
      open.delete(stream);
      stream.end();
    };
    request.raw.on('close', close);
    // What was saved between reading the record and listening is said at once.
    const { rows } = await database.raw<{ rows: { by: string }[] }>(
      `SELECT changed_by AS by FROM ${relation(table.id)} WHERE id = ? AND version > ?`,
      [id, query.version],
    );
    stream.write(':\n\n');
    if (rows[0]) say(rows[0].by);
    reply.type('text/event-stream').header('x-accel-buffering', 'no');
    return stream;
  });
}
