import { routes } from '@fiche/core/api';
import type { FastifyInstance } from 'fastify';
import { route } from '../access/index.ts';
import { readFromStandby } from '../database/index.ts';
import type { Services } from '../services.ts';
import { askingOf, listingAt, tableOf, viewAt } from '../views/index.ts';
import { freeLanes } from './freeLanes.ts';
import { periodsOf } from './periods.ts';

/** What calendars and lanes are drawn from. */
export function calendarRoutes(app: FastifyInstance, services: Services): void {
  const { databases } = services;
  route(app, services, routes.viewPeriods, async (call) => {
    const { tables, table, listing } = await viewAt(call, services, call.query);
    return readFromStandby(databases, call.walPosition, (database) =>
      periodsOf(database, tables, table, { ...call.query, listing }, { asking: askingOf(call) }),
    );
  });
  route(app, services, routes.listPeriods, async (call) => {
    const { tables, table } = await listingAt(call, services, call.body);
    return readFromStandby(databases, call.walPosition, (database) =>
      periodsOf(database, tables, table, call.body, { asking: askingOf(call) }),
    );
  });
  route(app, services, routes.freeLanes, (call) =>
    readFromStandby(databases, call.walPosition, (database) =>
      freeLanes(database, call.definitions.tables, tableOf(call), call.body, { asking: askingOf(call) }),
    ),
  );
}
