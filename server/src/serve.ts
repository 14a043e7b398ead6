import { setTimeout as wait } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { buildApp } from './app.ts';
import { type Databases, disconnect } from './database/index.ts';
import { startMailer } from './messages/index.ts';
import { createServices, type ServicesOptions } from './work.ts';

export interface ServeOptions extends ServicesOptions {
  readonly port: number;
  readonly host: string;
  readonly proxies: number;
  readonly logLevel: string;
  /** So long, in seconds, a server that is to stop still answers, while what stands before it takes it off. */
  readonly drainSeconds: number;
}

interface Serving {
  /** Where it answers, such as `http://127.0.0.1:4600`. */
  readonly address: string;
  /** Answers what has begun, ends the work in the background, and lets the connections go. */
  stop(): Promise<void>;
}

/** Serves the application over a database that is migrated. Throws what `listen` throws, such as EADDRINUSE. */
export async function serve(databases: Databases, options: ServeOptions): Promise<Serving> {
  const { port, host, proxies, logLevel, drainSeconds, ...own } = options;
  const services = createServices(databases, own);
  const app = await buildApp({
    services,
    webRoot: fileURLToPath(new URL('../../web/dist', import.meta.url)),
    logger: { level: logLevel },
    proxies,
  });
  await app.listen({ port, host });
  services.tasks.onTrouble = (error, kind) =>
    app.log.error({ kind, name: error.name, stack: error.stack?.split('\n').slice(1, 6).join('\n') }, 'work failed');
  services.tasks.watch();
  const endMailing = startMailer(databases.work.owner, services.mail, (error) =>
    app.log.error({ name: error.name, stack: error.stack?.split('\n').slice(1, 6).join('\n') }, 'mailing failed'),
  );
  return {
    address: `http://${host}:${(app.server.address() as { port: number }).port}`,
    async stop() {
      services.monitoring.draining = true;
      await wait(drainSeconds * 1_000);
      await app.close();
      await services.tasks.stop();
      await endMailing();
      await disconnect(databases);
    },
  };
}
