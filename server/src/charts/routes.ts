import { routes } from '@fiche/core/api';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { readFromStandby } from '../database/index.ts';
import type { Services } from '../services.ts';
import { askingOf, listingAt, viewAt } from '../views/index.ts';
import { figuresOf } from './figures.ts';

/** What charts are drawn from. */
export function chartRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;
  route(app, services, routes.viewFigures, async (call) => {
    const { tables, table, listing } = await viewAt(call, services, call.query);
    return readFromStandby(databases, call.walPosition, (database) =>
      figuresOf(database, tables, table, { ...call.query, listing }, { asking: askingOf(call) }),
    );
  });
  route(app, services, routes.listFigures, async (call) => {
    const { tables, table } = await listingAt(call, services, call.body);
    return readFromStandby(databases, call.walPosition, (database) =>
      figuresOf(database, tables, table, call.body, { asking: askingOf(call) }),
    );
  });
}
