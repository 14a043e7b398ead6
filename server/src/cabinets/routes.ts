import { routes } from '@fiche/core/api';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { accountsOf } from '../accounts/index.ts';
import { summarise } from '../definitions/index.ts';
import { notFound } from '../http/index.ts';
import type { Services } from '../services.ts';

export function cabinetRoutes(app: FastifyInstance, services: Services): void {
  const { tasks } = services;
  route(app, services, routes.listTasks, async ({ params }) => ({ tasks: await tasks.list(params.cabinet ?? '') }));
  route(app, services, routes.readTask, ({ params }) => tasks.view(Number(params.task), params.cabinet));
  route(app, services, routes.cancelTask, ({ params }) => tasks.cancel(Number(params.task), params.cabinet ?? ''));

  route(app, services, routes.openCabinet, async ({ params, definitions }) => {
    const cabinet = definitions.cabinets.get(params.cabinet ?? '');
    if (!cabinet) throw notFound('This cabinet');
    const here = <T extends { cabinet: string }>(all: Iterable<T>): T[] =>
      [...all].filter((one) => one.cabinet === cabinet.id);
    return {
      id: cabinet.id,
      label: cabinet.label,
      tables: here(definitions.tables.values()),
      forms: here(definitions.forms.values()).map(summarise),
      accounts: await accountsOf(services.databases.app, cabinet.id),
    };
  });
}
