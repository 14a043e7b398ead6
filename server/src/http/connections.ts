import type { IncomingMessage, Server, ServerResponse } from 'node:http';
import type { Socket } from 'node:net';
import { say } from '@fiche/core/languages';
import type { FastifyInstance } from 'fastify';
import { Refusal } from './problem.ts';

const SECONDS = 1_000;
/** How long a client may take for its headers, for a JSON body, for the whole of an upload, and for saying nothing. */
const HEADERS_MS = 15 * SECONDS;
const BODY_MS = 20 * SECONDS;
const UPLOAD_MS = 30 * 60 * SECONDS;
const SILENCE_MS = 90 * SECONDS;

export interface ConnectionLimits {
  /** Connections in all, and from one address; behind a proxy every address is the proxy's. */
  readonly most: number;
  readonly perAddress: number;
}

/** Keeps clients that are slow, silent or too many from taking the server from the others. */
export function limitConnections(app: FastifyInstance, { most, perAddress }: ConnectionLimits): void {
  const server = app.server as Server;
  server.headersTimeout = HEADERS_MS;
  server.requestTimeout = UPLOAD_MS;
  server.maxConnections = most;
  server.setTimeout(SILENCE_MS);
  closeIdleWhileEnding(app);
  const open = new Map<string, number>();
  server.on('connection', (socket: Socket) => {
    const address = socket.remoteAddress ?? '';
    const count = (open.get(address) ?? 0) + 1;
    open.set(address, count);
    socket.once('close', () => {
      const left = (open.get(address) ?? 1) - 1;
      if (left === 0) open.delete(address);
      else open.set(address, left);
    });
    if (count > perAddress) socket.destroy();
  });
  app.addHook('preParsing', async (request, _reply, payload) => {
    if (!isJson(request.raw)) return payload;
    const late = setTimeout(
      () =>
        (payload as IncomingMessage).destroy(
          new Refusal(408, say('The request took too long to arrive. Send it again.')),
        ),
      BODY_MS,
    );
    payload.once('close', () => clearTimeout(late));
    payload.once('end', () => clearTimeout(late));
    return payload;
  });
}

/** How often, in ms, a server that ends looks for connections on which nothing is under way. */
const SWEEP_MS = 100;

/**
 * Lets a server that ends wait for what is under way, and not for connections that are kept for what may come: Node itself
 * counts one that has not asked anything yet, as browsers open them, as busy.
 */
function closeIdleWhileEnding(app: FastifyInstance): void {
  const server = app.server as Server;
  const idle = new Set<Socket>();
  server.on('connection', (socket: Socket) => {
    idle.add(socket);
    socket.once('close', () => idle.delete(socket));
  });
  server.on('request', ({ socket }: IncomingMessage, response: ServerResponse) => {
    idle.delete(socket);
    response.once('close', () => {
      if (!socket.destroyed) idle.add(socket);
    });
  });
  let sweeping: NodeJS.Timeout | undefined;
  app.addHook('preClose', async () => {
    sweeping = setInterval(() => {
      for (const socket of idle) socket.destroy();
    }, SWEEP_MS);
  });
  app.addHook('onClose', async () => clearInterval(sweeping));
}

const isJson = (request: IncomingMessage): boolean =>
  (request.headers['content-type'] ?? '').startsWith('application/json');
