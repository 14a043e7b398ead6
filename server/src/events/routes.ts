import { PassThrough } from 'node:stream';
import { routes } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import { isLimited, recordsOf } from '@fiche/core/queries';
import type { FastifyInstance } from 'fastify';
import { type Call, findCaller, route } from '../access/index.ts';
import { asSeenBy } from '../definitions/index.ts';
import { notFound, Refusal } from '../http/index.ts';
import type { Services } from '../services.ts';
import { PEOPLE, type Saved, SESSIONS } from './announce.ts';
import { Listener } from './listen.ts';

/** Records that people can have open at one server at once, and those of one session. */
const MOST_OPEN = 2_000;
const MOST_OF_SESSION = 30;
/** A word now and then keeps proxies from closing a silent connection. */
const HEARTBEAT_MS = 25_000;

/** Whether the caller sees a record that names them, under the rights of this moment. */
async function seesRecord(
  { databases, definitions }: Services,
  { caller }: Pick<Call<unknown, unknown>, 'caller'>,
  about: Saved['about'],
): Promise<boolean> {
  if (!about) return true;
  const now = await findCaller(databases, caller.credential);
  const role = now.caller.memberships.get(about.cabinet)?.role;
  if (role === undefined || now.caller.login === null) return false;
  const { tables } = asSeenBy(await definitions.current(now.revisions), about.cabinet, role, now.caller.login);
  if (!tables.has(about.table)) return false;
  if (!isLimited(tables, about.table)) return true;
  const { rows } = await databases.app.raw<{ rows: unknown[] }>(
    `SELECT FROM ${recordsOf(tables, about.table)} r WHERE r.id = ?`,
    [about.record],
  );
  return rows.length > 0;
}

/** Streams of events that are open at this server, and what they listen to; they end when `app` closes. */
function eventStreams(app: FastifyInstance, services: Services) {
  const open = new Set<PassThrough>();
  // Whoever listens comes again, and is told first what was saved meanwhile.
  const listener = new Listener(services.databases.connectDirectly, () => {
    for (const stream of open) stream.end();
  });
  const bySession = new Map<string, number>();
  let closing = false;
  app.addHook('preClose', async () => {
    closing = true;
    for (const stream of open) stream.end();
    await listener.close();
  });

  /** Opens a stream for the caller's session; `listen` is given how to say something, and gives how to stop. */
  const openStream = async (
    { caller, request, reply }: Pick<Call<unknown, unknown>, 'caller' | 'request' | 'reply'>,
    listen: (say: (what: object) => void) => Promise<() => void>,
  ): Promise<PassThrough> => {
    if (open.size >= MOST_OPEN) throw new Refusal(429, say('Too many records are open at this server.'));
    const session = caller.credential;
    const mine = bySession.get(session) ?? 0;
    if (mine >= MOST_OF_SESSION)
      throw new Refusal(
        429,
        say('You have {mostOfSession} records open at once. Close some of them first.', {
          mostOfSession: MOST_OF_SESSION,
        }),
      );
    const stream = new PassThrough();
    const stops = [
      await listen((what) => stream.write(`data: ${JSON.stringify(what)}\n\n`)),
      // A session that ends takes its open streams with it.
      await listener.on(SESSIONS, session, () => close()),
    ];
    open.add(stream);
    // A request that was under way when the server began to close would keep it open.
    if (closing) stream.end();
    bySession.set(session, mine + 1);
    const beat = setInterval(() => {
      stream.write(':\n\n');
      // Sessions that run out tell nobody.
      findCaller(services.databases, session).then(
        ({ caller: now }) => now.login !== caller.login && close(),
        () => undefined,
      );
    }, HEARTBEAT_MS);
    const close = (): void => {
      if (!open.delete(stream)) return;
      clearInterval(beat);
      for (const stop of stops) stop();
      bySession.set(session, (bySession.get(session) ?? 1) - 1);
      if (bySession.get(session) === 0) bySession.delete(session);
      stream.end();
    };
    request.raw.on('close', close);
    stream.write(':\n\n');
    reply.type('text/event-stream').header('x-accel-buffering', 'no');
    return stream;
  };

  return { listener, openStream };
}

export function eventRoutes(app: FastifyInstance, services: Services): void {
  const database = services.databases.app;
  const { listener, openStream } = eventStreams(app, services);

  route(app, services, routes.recordEvents, async (call) => {
    const { params, query, definitions } = call;
    const table = definitions.tables.get(params.table ?? '');
    const id = Number(params.id);
    if (!table || !Number.isSafeInteger(id)) throw notFound(say('This record'));
    const there = await database.raw<{ rows: unknown[] }>(
      `SELECT FROM ${recordsOf(definitions.tables, table.id)} r WHERE r.id = ?`,
      [id],
    );
    if (there.rows.length === 0) throw notFound(say('This record'));
    const stream = await openStream(call, (say) => listener.on(table.id, id, ({ by }) => say({ by })));
    // What was saved between reading the record and listening is said at once.
    const { rows } = await database.raw<{ rows: { by: string }[] }>(
      `SELECT changed_by AS by FROM ${recordsOf(definitions.tables, table.id)} r WHERE r.id = ? AND r.version > ?`,
      [id, query.version],
    );
    if (rows[0]) stream.write(`data: ${JSON.stringify({ by: rows[0].by })}\n\n`);
    return stream;
  });

  route(app, services, routes.tableEvents, (call) => {
    const table = call.definitions.tables.get(call.params.table ?? '');
    if (!table) throw notFound(say('This table'));
    return openStream(call, (say) => {
      const soon = inTurn(say);
      return listener.onTable(table.id, (saved) => {
        // One's own saves are known here already.
        if (saved.by === call.caller.login) return;
        const about = { cabinet: table.cabinet, table: table.id, record: Number(saved.record) };
        seesRecord(services, call, about).then(
          (sees) => sees && soon({ by: saved.by }),
          () => undefined,
        );
      });
    });
  });

  route(app, services, routes.ownEvents, (call) =>
    openStream(call, (say) =>
      listener.on(PEOPLE, call.caller.login ?? '', ({ by, kind = 'changed', about }) => {
        // Of a record that one does not see nothing is said.
        seesRecord(services, call, about).then(
          (sees) => sees && say({ kind, by, ...about }),
          () => undefined,
        );
      }),
    ),
  );
}

/** So often at most a list hears that something in it was saved, in ms. */
const TURN = 2_000;

/** Says the first thing at once, and of what follows the last of each turn. */
function inTurn(say: (what: object) => void): (what: object) => void {
  let waiting: object | undefined;
  let turn: NodeJS.Timeout | undefined;
  const next = (): void => {
    turn = undefined;
    if (waiting) begin(waiting);
  };
  const begin = (what: object): void => {
    waiting = undefined;
    say(what);
    turn = setTimeout(next, TURN);
    turn.unref();
  };
  return (what) => {
    if (turn) waiting = what;
    else begin(what);
  };
}
