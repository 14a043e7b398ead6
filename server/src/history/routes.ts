import { routes } from '@fiche/core/api';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import type { Services } from '../services.ts';
import { ledgerLines, recordLines } from './store.ts';

export function historyRoutes(app: FastifyInstance, services: Services): void {
  const database = services.databases.app;
  route(app, services, routes.recordHistory, async ({ params, definitions }) => ({
    lines: await recordLines(database, definitions, params.table ?? '', Number(params.id)),
  }));
  route(app, services, routes.readLedger, ({ params, query, definitions }) =>
    ledgerLines(database, definitions, params.cabinet ?? '', query),
  );
}
