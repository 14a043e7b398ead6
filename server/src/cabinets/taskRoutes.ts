import { routes } from '@fiche/core/api';
import { say } from '@fiche/core/languages';
import type { FastifyInstance } from 'fastify';
import { needRight, route } from '../access/index.ts';
import type { Definitions } from '../definitions/index.ts';
import { notFound } from '../http/index.ts';
import type { Services } from '../services.ts';

/** Work in the background: how far it is, what it found, and its end before it is done. */
export function taskRoutes(app: FastifyInstance, services: Services): void {
  const { tasks } = services;
  /** Work is told with what it found: to whoever began it, and to those who see everything. */
  const tells = ({ tables, seen }: Definitions, login: string | null, task: { readonly account: string }): boolean =>
    tables === seen?.whole.tables || task.account === login;
  route(app, services, routes.listTasks, async ({ params, caller, definitions }) => ({
    tasks: (await tasks.list(params.cabinet ?? '')).filter((one) => tells(definitions, caller.login, one)),
  }));
  route(app, services, routes.readTask, async ({ params, caller, definitions }) => {
    const task = await tasks.view(Number(params.task), params.cabinet);
    if (!tells(definitions, caller.login, task)) throw notFound(say('This task'));
    return task;
  });
  route(app, services, routes.cancelTask, async ({ params, caller, definitions }) => {
    const cabinet = params.cabinet ?? '';
    const task = await tasks.view(Number(params.task), cabinet);
    if (!tells(definitions, caller.login, task)) throw notFound(say('This task'));
    // One's own work, or anybody's for who may build.
    if (task.account !== caller.login) needRight(definitions, 'build');
    return tasks.cancel(task.id, cabinet);
  });
}
