import { routes } from '@fiche/core/api';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import type { Services } from '../services.ts';
import { recordAsOf } from './card.ts';

/** Routes that read single records of the past; lists of the past are asked for as lists are. */
export function pastRoutes(app: FastifyInstance, services: Services): void {
  route(app, services, routes.recordAsOf, ({ params, query, definitions }) =>
    recordAsOf(services.databases.app, definitions, {
      table: params.table ?? '',
      id: Number(params.id),
      at: query.at,
      form: query.form,
    }),
  );
}
